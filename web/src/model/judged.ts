import type { Judged, Pass } from '../api/client'

/** What every page listens for: small, since it is loaded with each of them. */
export const passKey = (shoot: number) => ['pass', shoot] as const

/** The pass as somebody judged it, here or elsewhere. */
export function withJudged(pass: Pass, judged: readonly Judged[]): Pass {
  const told = new Map(judged.map((frame) => [frame.id, frame]))
  return {
    ...pass,
    frames: pass.frames.map((frame) => ({ ...frame, ...told.get(frame.id) })),
  }
}
