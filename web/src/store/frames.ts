import { CHUNK } from '../api/frames'

/**
 * Frames by their id, fetched by the hundred as they come into view; where they lie on a sheet is not theirs to know.
 * What is out of date stays to be seen until it was asked for again.
 */
export class Frames<F extends { id: number }> {
  readonly #fetch: (ids: number[]) => Promise<F[]>
  readonly #listeners = new Set<() => void>()
  readonly #known = new Map<number, F>()
  readonly #current = new Set<number>()
  readonly #asked = new Set<number>()
  #next = new Set<number>()
  #version = 0
  #generation = 0

  constructor(fetch: (ids: number[]) => Promise<F[]>) {
    this.#fetch = fetch
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  /** Another number whenever a frame came, or all are out of date. */
  readonly version = (): number => this.#version

  get(id: number): F | undefined {
    return this.#known.get(id)
  }

  /** Says that these are in view, or soon will be. What several parts of a page want at once is asked for at once. */
  want(ids: readonly number[]): void {
    const wanted = ids.filter((id) => !this.#current.has(id) && !this.#asked.has(id))
    if (wanted.length === 0) return
    if (this.#next.size === 0) queueMicrotask(this.#ask)
    for (const id of wanted) {
      this.#asked.add(id)
      this.#next.add(id)
    }
  }

  /** What these have become is known without asking: it is shown until they are told anew. */
  set(changes: ReadonlyMap<number, (frame: F) => F>): void {
    let changed = false
    for (const [id, change] of changes) {
      const frame = this.#known.get(id)
      if (frame) this.#known.set(id, change(frame))
      changed ||= frame !== undefined
    }
    if (changed) this.#changed()
  }

  /** What is known may not be true any more; what is in view is wanted anew by those who show it. */
  outdate(): void {
    this.#generation++ // what is on its way may tell of the time before
    this.#current.clear()
    this.#asked.clear()
    this.#changed()
  }

  readonly #ask = (): void => {
    const ids = [...this.#next]
    this.#next = new Set()
    for (let from = 0; from < ids.length; from += CHUNK) void this.#fetchThese(ids.slice(from, from + CHUNK))
  }

  async #fetchThese(ids: number[]): Promise<void> {
    const generation = this.#generation
    const frames = await this.#fetch(ids).catch(() => [])
    const isCurrent = generation === this.#generation
    for (const frame of frames) {
      if (isCurrent || !this.#current.has(frame.id)) this.#known.set(frame.id, frame)
      if (isCurrent) this.#current.add(frame.id)
    }
    // what did not come is asked for when it is wanted the next time
    if (isCurrent) for (const id of ids) this.#asked.delete(id)
    if (frames.length > 0) this.#changed()
  }

  #changed(): void {
    this.#version++
    for (const listener of this.#listeners) listener()
  }
}
