import type { PassFrame, PassGroup } from '../api/client'

/** What a group is known by, as long as it is the same: its first frame. */
export const keyOf = (group: PassGroup): number => group.frames[0] ?? 0

/**
 * Which frame of a folded group stands for it: the first that is still open where others are judged, else the sharpest,
 * else the first.
 */
function standsFor(frames: readonly PassFrame[], { sharpest }: PassGroup, members: readonly number[]): number {
  const open = members.filter((position) => frames[position]?.verdict === 'open')
  const isMixed = open.length > 0 && open.length < members.length
  return (isMixed ? open[0] : members.find((position) => frames[position]?.id === sharpest)) ?? members[0] ?? 0
}

/**
 * A pass whose groups are folded: each is gone through as one frame.
 *
 * @param positions that it goes through unfolded, in order
 * @param opened groups that are not folded, by their keys
 * @returns for each position in a folded group the one that stands for it
 */
export function folded(
  frames: readonly PassFrame[],
  groups: readonly PassGroup[],
  positions: readonly number[],
  opened: ReadonlySet<number>,
): ReadonlyMap<number, number> {
  const closed = groups.filter((group) => !opened.has(keyOf(group)))
  const groupOf = new Map(closed.flatMap((group) => group.frames.map((frame) => [frame, group] as const)))
  const members = new Map<PassGroup, number[]>()
  for (const position of positions) {
    const group = groupOf.get(frames[position]?.id ?? 0)
    if (!group) continue
    const of = members.get(group)
    if (of) of.push(position)
    else members.set(group, [position])
  }
  const stands = new Map<number, number>()
  for (const [group, of] of members) {
    if (of.length < 2) continue // the others are not gone through
    const one = standsFor(frames, group, of)
    for (const position of of) stands.set(position, one)
  }
  return stands
}
