import type { Pass, PassFrame } from '../src/api/client'

/** A frame of a pass of which nothing is said, but what is given. */
export const passFrame = (id: number, more: Partial<PassFrame> = {}): PassFrame => ({
  id,
  picture: null,
  verdict: 'open',
  stars: null,
  tabs: [],
  file_stars: null,
  seconds: null,
  facets: [],
  intakes: [1],
  by: null,
  beside: [],
  ...more,
})

export const NO_STEPS = { undo: null, undo_step: null, redo: null, redo_step: null } satisfies Partial<Pass>
