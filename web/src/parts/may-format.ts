import type { Clearance } from '../api/client'

/** The answer to the question that matters, as it is said on every page and printed. */
export function answerOf(clearance: Clearance): string {
  if (clearance.cleared) return 'Cleared'
  return clearance.copied ? 'Copied, not cleared' : 'Not cleared'
}

/** What the word rests on: two drives, or the photographer's own word for one. */
export function proofOf(clearance: Clearance): string {
  return clearance.on_one_drive > 0
    ? 'every file is in two places on one drive, which you said is enough'
    : 'every file is verified in two places, on two drives'
}

/** Whether reading copies again may change the answer: they were written to since they were verified. */
export function mayBeLookedAt(clearance: Clearance): boolean {
  return clearance.touched > 0
}
