import { useEffect, useLayoutEffect, useRef } from 'react'
import { act, type Act, type Pressed, type Scope } from './keys'

/** Menus and choices, which have their own uses for keys: a letter finds a choice, Escape closes them. */
const OVER = '[data-radix-popper-content-wrapper]'

/** Keys of the whole page, while it is shown; not those that were pressed in what stands open over it. */
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
      const isOver = event.target instanceof Element && event.target.closest(OVER) !== null
      // what stood over it and was closed by the key is gone by now
      if (!isOver && !event.defaultPrevented) act(of, event, newest.current)
    }
    window.addEventListener('keydown', press)
    return () => {
      window.removeEventListener('keydown', press)
    }
  }, [of])
}
