/** As many frames as stand beside each other at most. */
export const MOST_BESIDE = 4

/**
 * Which frames stand beside each other: always so many of a row, so that they stay where they are while one goes from
 * frame to frame.
 *
 * @param row positions of a group's frames, or of the pass where the one at hand is in no group
 * @param place of the one at hand in the row, from 0
 */
export function beside(row: readonly number[], place: number, count: number): readonly number[] {
  const page = Math.floor(place / count) * count
  const from = Math.max(0, Math.min(page, row.length - count))
  return row.slice(from, from + count)
}
