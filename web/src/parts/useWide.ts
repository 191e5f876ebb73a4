import { useSyncExternalStore } from 'react'

const WIDE = '(min-width: 1600px)'

/** Whether the window has room for larger pictures. */
export function useWide(): boolean {
  return useSyncExternalStore(
    (listener) => {
      const query = window.matchMedia(WIDE)
      query.addEventListener('change', listener)
      return () => {
        query.removeEventListener('change', listener)
      }
    },
    () => window.matchMedia(WIDE).matches,
  )
}
