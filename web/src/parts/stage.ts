import type { Progress, Sheet } from '../api/client'

/** Whether an intake has come to its end: from then on it has a receipt. */
export const isOver = (state: Sheet['state']): boolean => state === 'done' || state === 'stopped'

/**
 * What an intake under way is at, and how far: first its files are copied, then what is left of its raw files is
 * converted.
 */
export function stageOf(progress: Progress, bytesWithin = 0): { converts: boolean; share: number } {
  const { dng } = progress
  const settled = dng ? dng.made + dng.refused : 0
  if (dng !== null && progress.bytes_done >= progress.bytes && settled < dng.wanted)
    return { converts: true, share: settled / dng.wanted }
  return {
    converts: false,
    share: progress.bytes === 0 ? 1 : Math.min(1, (progress.bytes_done + bytesWithin) / progress.bytes),
  }
}
