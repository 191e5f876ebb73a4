import type { Judged, Pass } from '../api/client'

/** What every page listens for: small, since it is loaded with each of them. */
export const passKey = (shoot: number) => ['pass', shoot] as const

/** The pass as somebody judged it, here or elsewhere; what is told of a turn that is in it already is passed over. */
export function withJudged(pass: Pass, { turn, frames }: { turn: number; frames: readonly Judged[] | null }): Pass {
  if (turn <= pass.turn) return pass
  const told = new Map(frames?.map((frame) => [frame.id, frame]))
  return {
    ...pass,
    turn,
    frames: pass.frames.map((frame) => {
      const now = told.get(frame.id)
      return now ? { ...frame, ...now } : frame // the very one where nothing was told of it
    }),
  }
}
