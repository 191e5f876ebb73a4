import { useMemo, useState } from 'react'
import type { Pass, PassFrame } from '../../api/client'
import { isMeant, type Narrow, type Narrowing } from '../../model/narrow'
import { through, type Filter } from '../../model/pass'

const NONE: readonly PassFrame[] = []

/** Which frames a pass goes through: it keeps them while they are judged, until another choice is made. */
export function usePassFilter(pass: Pass | undefined) {
  const [filter, setFilter] = useState<Filter>('every')
  const [narrowing, setNarrowing] = useState<Narrowing>({})
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null)
  const frames = pass?.frames ?? NONE
  // every one of them stays the same list while they are judged
  const all = useMemo(() => Array.from({ length: frames.length }, (_, position) => position), [frames.length])
  const positions = useMemo(
    () => (chosen === null ? all : all.filter((position) => chosen.has(frames[position]?.id ?? 0))),
    [frames, chosen, all],
  )
  const choose = (filter: Filter, narrowing: Narrowing = {}) => {
    setFilter(filter)
    setNarrowing(narrowing)
    const isAll = filter === 'every' && Object.keys(narrowing).length === 0
    const meant = isAll ? null : framesOf(filter).filter((frame) => isMeant(pass?.facets ?? [], frame, narrowing))
    setChosen(meant && new Set(meant.map((frame) => frame.id)))
  }
  const framesOf = (filter: Filter) => through(frames, filter).flatMap((position) => frames[position] ?? [])
  return {
    filter,
    narrowing,
    positions,
    isEvery: chosen === null,
    /** Those that it would go through if it were not narrowed. */
    wide: () => framesOf(filter),
    pick: (filter: Filter) => {
      choose(filter, narrowing)
    },
    /** @param value null: any */
    narrow: (by: Narrow, value: string | null) => {
      const others = Object.fromEntries(Object.entries(narrowing).filter(([each]) => each !== by))
      choose(filter, value === null ? others : { ...others, [by]: value })
    },
    widen: () => {
      choose(filter)
    },
    all: () => {
      choose('every')
    },
  }
}
