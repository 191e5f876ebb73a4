import { useCallback, useMemo, useState } from 'react'
import type { Pass, PassGroup } from '../../api/client'
import { folded, keyOf } from '../../model/fold'

const FOLDS = 'velvet-first-look-folds'
const NONE: ReadonlyMap<number, number> = new Map()

/**
 * Folds the groups of a pass: each is gone through as one frame, and judged as one.
 *
 * @param whole positions that the pass goes through unfolded
 */
export function useFold(pass: Pass | undefined, whole: readonly number[]) {
  const [isFolded, setIsFolded] = useState(() => localStorage.getItem(FOLDS) !== null)
  const [opened, setOpened] = useState<ReadonlySet<number>>(new Set())
  const stands = useMemo(
    () => (pass && isFolded ? folded(pass.frames, pass.groups, whole, opened) : NONE),
    [pass, isFolded, whole, opened],
  )
  const positions = useMemo(
    () => (stands.size === 0 ? whole : whole.filter((position) => (stands.get(position) ?? position) === position)),
    [whole, stands],
  )
  const judgedWith = useCallback(
    (position: number): number[] => {
      const of = stands.has(position) ? whole.filter((one) => stands.get(one) === position) : [position]
      return of.flatMap((one) => pass?.frames[one]?.id ?? [])
    },
    [pass, whole, stands],
  )
  return {
    isFolded,
    positions,
    /** The position that is shown where one is meant. */
    shown: (position: number): number => stands.get(position) ?? position,
    /** Ids of the frames that are judged with the one at a position; its own alone where it stands for no group. */
    judgedWith,
    fold: (isFolded: boolean) => {
      setIsFolded(isFolded)
      setOpened(new Set())
      if (isFolded) localStorage.setItem(FOLDS, 'yes')
      else localStorage.removeItem(FOLDS)
    },
    /** Opens a folded group, or folds it again. */
    toggle: (group: PassGroup) => {
      const key = keyOf(group)
      setOpened(new Set(opened.has(key) ? [...opened].filter((one) => one !== key) : [...opened, key]))
    },
  }
}
