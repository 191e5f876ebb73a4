import type { Pass, PassFrame } from '../api/client'
import { saysOtherwise, starsOf } from './pass'

/** What a pass can be narrowed by, in the order in which it is offered. */
export const NARROWS = ['tab', 'mark', 'hint', 'stars', 'kind', 'camera', 'lens', 'hour', 'keyword'] as const
export type Narrow = (typeof NARROWS)[number]

/** A value for each that is chosen: of tabs the id, of stars the fewest, of hours the seconds at which one begins. */
export type Narrowing = Partial<Record<Narrow, string>>

const HOUR = 3600

function valuesOf(facets: Pass['facets'], frame: PassFrame, by: Narrow): string[] {
  if (by === 'stars') return Array.from({ length: starsOf(frame) }, (_, n) => String(n + 1))
  if (by === 'tab') return frame.tabs.map(String)
  if (by === 'mark') return frame.beside.filter((mark) => saysOtherwise(frame, mark)).map((mark) => mark.by)
  if (by === 'hour') return frame.seconds === null ? [] : [String(Math.floor(frame.seconds / HOUR) * HOUR)]
  return frame.facets.flatMap((number) => (facets[number]?.by === by ? [facets[number].value] : []))
}

/** Whether a frame is meant; by all that is chosen, or all but one of it. */
export function isMeant(facets: Pass['facets'], frame: PassFrame, chosen: Narrowing, but?: Narrow): boolean {
  return NARROWS.every((by) => {
    const value = by === but ? undefined : chosen[by]
    return value === undefined || valuesOf(facets, frame, by).includes(value)
  })
}

export interface Choice {
  value: string
  frames: number
}

/**
 * What can be chosen of one, with how many frames it would leave beside the other choices. Nothing where all frames are
 * alike in it.
 *
 * @param frames that the pass would go through without any
 */
export function choicesOf(
  facets: Pass['facets'],
  frames: readonly PassFrame[],
  chosen: Narrowing,
  by: Narrow,
): Choice[] {
  const counts = new Map<string, number>()
  let saying = 0
  for (const frame of frames) {
    const counted = isMeant(facets, frame, chosen, by) ? 1 : 0
    const values = valuesOf(facets, frame, by)
    if (values.length > 0) saying++
    for (const value of values) counts.set(value, (counts.get(value) ?? 0) + counted)
  }
  const choices = [...counts].map(([value, count]) => ({ value, frames: count }))
  if (by === 'tab' || by === 'stars' || by === 'hour')
    choices.sort((one, other) => Number(one.value) - Number(other.value))
  return choices.length > 1 || (choices.length === 1 && saying < frames.length) ? choices : []
}
