import { useSyncExternalStore } from 'react'

const KEPT = 'velvet-judges'
const hearers = new Set<() => void>()

/** Who judges on this browser, as they said; null where they did not. */
export const whoJudges = (): string | null => localStorage.getItem(KEPT)

/** @param name empty: nobody in particular */
export function sayWhoJudges(name: string): void {
  if (name === '') localStorage.removeItem(KEPT)
  else localStorage.setItem(KEPT, name)
  for (const hear of hearers) hear()
}

export const useWho = (): string | null =>
  useSyncExternalStore((hear) => {
    hearers.add(hear)
    return () => hearers.delete(hear)
  }, whoJudges)
