import type { Selected } from '../api/client'

/**
 * Frames of a shoot as a request names them: by their ids, or as all but some where those are fewer, so that everything
 * selected is told in a word. How many all were is told with it: if they are others by now, the server refuses.
 *
 * @param all frames of the shoot, as they are shown
 */
export function selected(frames: readonly number[], all: readonly number[]): Selected {
  const chosen = new Set(frames)
  const except = all.filter((id) => !chosen.has(id))
  const isOfAll = all.length - except.length === chosen.size
  return isOfAll && except.length < frames.length ? { except, of: all.length } : { frames: [...frames] }
}
