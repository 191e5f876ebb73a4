import { useSyncExternalStore } from 'react'

const WIDE = '(min-width: 1600px)'

let asked: MediaQueryList | null = null

/** One for all rows of a page: asking the browser anew costs each of them what a picture does. */
const query = () => (asked ??= window.matchMedia(WIDE))

function subscribe(listener: () => void): () => void {
  query().addEventListener('change', listener)
  return () => {
    query().removeEventListener('change', listener)
  }
}

const isWide = () => query().matches

/** Whether the window has room for larger pictures. */
export const useWide = (): boolean => useSyncExternalStore(subscribe, isWide)
