import { useSyncExternalStore } from 'react'

export const SMALLEST = 72
export const LARGEST = 304
const USUAL = 112
const KEY = 'velvet.contact-size'

let size: number | null = null
const listeners = new Set<() => void>()

function read(): number {
  if (size === null) {
    const kept = Number(localStorage.getItem(KEY))
    size = kept >= SMALLEST && kept <= LARGEST ? kept : USUAL
  }
  return size
}

function set(to: number): void {
  size = to
  localStorage.setItem(KEY, String(to))
  listeners.forEach((listener) => {
    listener()
  })
}

/** How tall pictures on contact sheets are, in pixels: one size for all of them in this browser. */
export function useContactSize(): [number, (to: number) => void] {
  const now = useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => {
      listeners.delete(listener)
    }
  }, read)
  return [now, set]
}
