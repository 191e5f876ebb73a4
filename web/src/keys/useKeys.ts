import { useEffect, useLayoutEffect, useRef } from 'react'
import { act, type Act, type Pressed, type Scope } from './keys'

/** Keys of the whole page, while it is shown. */
export function useKeys<S extends Scope>(
  of: S,
  acts: Partial<Record<Act<S>, ((event: Pressed) => void) | undefined>>,
): void {
  const newest = useRef(acts)
  // before the next key can come: one that is held or typed fast acts on what the one before it made
  useLayoutEffect(() => {
    newest.current = acts
  })
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      act(of, event, newest.current)
    }
    window.addEventListener('keydown', press)
    return () => {
      window.removeEventListener('keydown', press)
    }
  }, [of])
}
