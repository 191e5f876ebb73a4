import type { Judgement, Pass, PassFrame, PassGroup } from '../api/client'

/** Which frames a first look goes through. */
export const FILTERS = ['every', 'open', 'kept', 'struck', 'starred'] as const
export type Filter = (typeof FILTERS)[number]

/** The pass as it will be, when what was judged here is acknowledged. */
export function withJudgements(pass: Pass, judgements: readonly Judgement[]): Pass {
  if (judgements.length === 0) return pass
  const of = new Map<number, Partial<Judgement>[]>()
  const judge = (ids: readonly number[], judgement: Partial<Judgement>) => {
    for (const id of ids) of.set(id, [...(of.get(id) ?? []), judgement])
  }
  for (const judgement of judgements) {
    judge(judgement.frames, judgement)
    judge(judgement.struck ?? [], { verdict: 'struck' })
  }
  return { ...pass, frames: pass.frames.map((frame) => of.get(frame.id)?.reduce(judged, frame) ?? frame) }
}

type Mark = PassFrame['beside'][number]

function judged(frame: PassFrame, judgement: Partial<Judgement>): PassFrame {
  const { verdict, stars, tabs = [], untab = [] } = judgement
  const isSaid = verdict !== undefined || stars !== undefined
  return {
    ...frame,
    ...(isSaid ? { by: judgement.by ?? null, beside: besideThat(frame, judgement.by ?? null) } : {}),
    verdict: verdict ?? frame.verdict,
    stars: stars ?? frame.stars,
    tabs: withTabs(frame.tabs, tabs, untab),
  }
}

/** What others say when somebody judges: who judged before that stays beside, and who judges now does not. */
function besideThat({ verdict, stars, by, beside }: PassFrame, now: string | null): Mark[] {
  if (by === now) return beside
  const others = beside.filter((mark) => mark.by !== now)
  return by === null || (verdict === 'open' && stars === null)
    ? others
    : [...others, { by, verdict, stars: stars && Math.max(0, stars) }].sort((a, b) => (a.by < b.by ? -1 : 1))
}

/** Whether somebody's word is another than the verdict and the stars; where they gave no stars, these do not count. */
export const saysOtherwise = (frame: PassFrame, { verdict, stars }: Mark): boolean =>
  verdict !== frame.verdict || (stars !== null && stars !== frame.stars)

/** Makes what somebody says of frames their verdicts. */
export function takingOver(frames: readonly PassFrame[], by: string): Judgement[] {
  const same = new Map<string, Judgement>()
  for (const frame of frames) {
    const mark = frame.beside.find((one) => one.by === by)
    if (!mark || !saysOtherwise(frame, mark)) continue
    const { verdict, stars } = mark
    const key = `${verdict} ${stars}`
    const judgement = same.get(key) ?? { frames: [], verdict, by, ...(stars === null ? {} : { stars }) }
    same.set(key, { ...judgement, frames: [...judgement.frames, frame.id] })
  }
  return [...same.values()]
}

/** Tabs in the order in which they were made, as the server has them. */
function withTabs(has: readonly number[], gets: readonly number[], loses: readonly number[]): number[] {
  return [...new Set([...has, ...gets])].filter((tab) => !loses.includes(tab)).sort((one, other) => one - other)
}

/** Puts a tab on frames, or takes it off where every one of them has it. */
export function tabbing(frames: readonly PassFrame[], tab: number): Judgement {
  const ids = frames.map((frame) => frame.id)
  return frames.every((frame) => frame.tabs.includes(tab))
    ? { frames: ids, untab: [tab] }
    : { frames: ids, tabs: [tab] }
}

/** Stars that were given here, or else those that came with the file. */
export const starsOf = (frame: PassFrame): number => Math.max(0, frame.stars ?? frame.file_stars ?? 0)

export interface Counts {
  kept: number
  struck: number
  open: number
  starred: number
}

export function countsOf(frames: readonly PassFrame[]): Counts {
  const counts = { kept: 0, struck: 0, open: 0, starred: 0 }
  for (const frame of frames) {
    counts[frame.verdict]++
    if (starsOf(frame) > 0) counts.starred++
  }
  return counts
}

/** Positions of the frames that a filter lets through. */
export function through(frames: readonly PassFrame[], filter: Filter): number[] {
  return frames.flatMap((frame, position) =>
    filter === 'every' || (filter === 'starred' ? starsOf(frame) > 0 : frame.verdict === filter) ? [position] : [],
  )
}

/**
 * Where a verdict leads on to: the next frame that is open, else the first one that is; in a pass through frames that
 * are judged, the next one.
 *
 * @param positions of the pass, in order
 * @param judged ids of frames that are not open any more
 * @returns the position; the same one where there is no other
 */
export function onward(
  frames: readonly PassFrame[],
  positions: readonly number[],
  from: number,
  judged: ReadonlySet<number> = new Set(),
): number {
  const isOpen = (position: number) => {
    const frame = frames[position]
    return frame?.verdict === 'open' && !judged.has(frame.id)
  }
  return (
    positions.find((position) => position > from && isOpen(position)) ??
    positions.find((position) => position !== from && isOpen(position)) ??
    positions.find((position) => position > from) ??
    from
  )
}

/** The group that a frame is in. */
export function groupOf(groups: readonly PassGroup[], frame: number): PassGroup | null {
  return groups.find((group) => group.frames.includes(frame)) ?? null
}

/** Whether one frame of it is meant to stay: it is a burst, or there are several tries of one picture. */
export const isForOne = (group: PassGroup | null): group is PassGroup =>
  group?.kind === 'burst' || group?.kind === 'alike'

/** Keeps one frame of a group and strikes the others. */
export function oneOf(group: PassGroup, frame: number): Judgement {
  return { frames: [frame], verdict: 'kept', struck: group.frames.filter((other) => other !== frame) }
}
