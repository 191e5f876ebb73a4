import { pictureUrl } from '../api/client'

/** The long edges of the pictures that are kept of a frame. */
export const SIZES = [320, 1024, 2560] as const
export type Size = (typeof SIZES)[number]

/** Pictures that are held decoded; a large one takes some 17 MB. */
const MOST = 14

interface Held {
  image: HTMLImageElement
  ready: Promise<void>
  isReady: boolean
}

/** Pictures by their address, those that were asked for last at the end. */
const held = new Map<string, Held>()

/** Fetches a picture and has it decoded before it is shown. */
export function fetchAhead(size: Size, picture: string): Promise<void> {
  const src = pictureUrl(size, picture)
  const known = held.get(src)
  if (known) {
    held.delete(src)
    held.set(src, known)
    return known.ready
  }
  const image = new Image()
  image.src = src
  const entry: Held = { image, isReady: false, ready: Promise.resolve() }
  entry.ready = image.decode().then(() => {
    entry.isReady = true
  })
  entry.ready.catch(() => held.delete(src)) // it may be asked for again
  held.set(src, entry)
  for (const [oldest] of held) {
    if (held.size <= MOST) break
    held.delete(oldest)
  }
  return entry.ready
}

/** A picture to read pixels from. */
export async function pixelsOf(size: Size, picture: string): Promise<ImageData> {
  await fetchAhead(size, picture)
  const image = held.get(pictureUrl(size, picture))?.image
  const canvas = document.createElement('canvas')
  canvas.width = image?.naturalWidth ?? 1
  canvas.height = image?.naturalHeight ?? 1
  const drawn = canvas.getContext('2d', { willReadFrequently: true })
  if (!image || !drawn) throw new Error('The picture is not held any more.')
  drawn.drawImage(image, 0, 0)
  return drawn.getImageData(0, 0, canvas.width, canvas.height)
}

/** The largest size of a picture that can be shown at once; null where none is decoded yet. */
export function readySize(picture: string): Size | null {
  return [...SIZES].reverse().find((size) => held.get(pictureUrl(size, picture))?.isReady) ?? null
}
