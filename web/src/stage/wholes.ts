import { pictureUrl } from '../api/client'

/**
 * Bytes of pictures that are held though nobody looks at them: the next one and the one before, of 24 megapixels; and
 * where none is looked at, the last one.
 */
const MOST_AROUND = 200e6
const MOST_BEHIND = 100e6

interface Held {
  bitmap: Promise<ImageBitmap>
  /** What is decoded; null until then. */
  ready: ImageBitmap | null
  users: number
  stop: AbortController
}

/**
 * Pictures with every pixel, decoded, those that were asked for last at the end. Of what an `img` shows a browser keeps
 * as much as it likes, five such pictures and more, and decodes it behind the paint; a bitmap is painted at once, and
 * let go of when that is said.
 */
const held = new Map<string, Held>()

function ask(picture: string): Held {
  const one = held.get(picture) ?? begun(picture)
  held.delete(picture)
  held.set(picture, one)
  return one
}

function begun(picture: string): Held {
  const stop = new AbortController()
  const one: Held = { bitmap: fetched(picture, stop.signal), ready: null, users: 0, stop }
  one.bitmap.then(
    (bitmap) => {
      one.ready = bitmap
      letGo()
    },
    () => {
      if (held.get(picture) === one) held.delete(picture) // it may be asked for again
    },
  )
  return one
}

async function fetched(picture: string, signal: AbortSignal): Promise<ImageBitmap> {
  const response = await fetch(pictureUrl(16384, picture), { signal })
  if (!response.ok) throw new Error('There is no picture of this size.')
  const file = await response.blob()
  signal.throwIfAborted()
  return createImageBitmap(file)
}

/** What nobody waits for any more is stopped, and what is too much is closed, the oldest first. */
function letGo(): void {
  const all = [...held.entries()]
  const most = all.some(([, { users }]) => users > 0) ? MOST_AROUND : MOST_BEHIND
  const last = all.at(-1)?.[0]
  let bytes = 0
  for (const [picture, one] of all.reverse()) {
    if (one.users > 0) continue
    bytes += one.ready ? 4 * one.ready.width * one.ready.height : 0
    if (picture === last || (one.ready && bytes <= most)) continue
    held.delete(picture)
    one.stop.abort()
    one.bitmap.then(
      (bitmap) => {
        bitmap.close()
      },
      () => undefined,
    )
  }
}

/** Has a picture decoded that will be looked at next. */
export function wholeAhead(picture: string): void {
  ask(picture)
  letGo()
}

/** A picture that can be painted at once; null where it must be waited for. */
export function readyWhole(picture: string): ImageBitmap | null {
  return held.get(picture)?.ready ?? null
}

/** Holds a picture for as long as it is looked at. */
export function lookAtWhole(picture: string): { bitmap: Promise<ImageBitmap>; end: () => void } {
  const one = ask(picture)
  one.users++
  letGo()
  const end = () => {
    one.users--
    if (held.get(picture) === one) {
      held.delete(picture)
      held.set(picture, one)
    }
    queueMicrotask(letGo) // another may look at it in this moment
  }
  return { bitmap: one.bitmap, end }
}
