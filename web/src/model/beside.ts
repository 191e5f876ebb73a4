/** As many frames as stand beside each other at most. */
export const MOST_BESIDE = 4

/**
 * Which frames stand beside each other: always so many of a group, so that its frames are compared with each other and
 * stay where they are while one goes from frame to frame.
 *
 * @param place of the frame at hand in the pass, from 0
 * @param group places of the first frame of its group and behind the last one; of the whole pass where it is in none
 * @returns places of the first one that is shown and behind the last one
 */
export function beside(place: number, count: number, [first, end]: readonly [number, number]): [number, number] {
  const page = first + Math.floor((place - first) / count) * count
  const from = Math.max(first, Math.min(page, end - count))
  return [from, Math.min(from + count, end)]
}
