import { pictureUrl } from '../api/client'

/** The long edges of the pictures that are kept of a frame, at the least. */
export const SIZES = [320, 1024, 2560] as const
export type Size = (typeof SIZES)[number]

/** Pictures of a size that are held decoded: one takes some 0.3, 3 to 6, or 17 MB. */
const MOST: Record<Size, number> = { 320: 80, 1024: 8, 2560: 6 }

/** Milliseconds. Who goes through frames faster than this sees small pictures, and waits for no large one. */
export const REST = 120

interface Held {
  image: HTMLImageElement
  ready: Promise<void>
  isReady: boolean
  size: Size
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
  const entry: Held = { image, isReady: false, ready: Promise.resolve(), size }
  entry.ready = image.decode().then(() => {
    entry.isReady = true
  })
  entry.ready.catch(() => held.delete(src)) // it may be asked for again
  held.set(src, entry)
  const ofSize = [...held].filter(([, other]) => other.size === size)
  for (const [oldest] of ofSize.slice(0, Math.max(0, ofSize.length - MOST[size]))) held.delete(oldest)
  return entry.ready
}

/**
 * Fetches what can be shown of a picture where another one is shown, and no more: the largest only where the middling
 * one has fewer pixels than the screen has for it.
 *
 * @param box the picture that is shown; null where none is: the middling one will do for now
 * @param onReady told of each size that is decoded
 * @throws where none of them can be had
 */
export async function fetchFor(
  picture: string,
  box: Element | null,
  onReady: (size: Size) => void = () => undefined,
): Promise<void> {
  for (const size of [1024, 2560] as const) {
    try {
      await fetchAhead(size, picture)
      onReady(size)
      if (!box || isEnough(held.get(pictureUrl(size, picture))?.image, box)) return
    } catch (error) {
      if (size === SIZES.at(-1)) throw error
    }
  }
}

function isEnough(image: HTMLImageElement | undefined, box: Element): boolean {
  if (!image?.naturalWidth) return false
  const style = getComputedStyle(box)
  const within = (edges: readonly string[]) => edges.reduce((sum, edge) => sum + Number.parseFloat(edge), 0)
  const width = box.clientWidth - within([style.paddingLeft, style.paddingRight])
  const height = box.clientHeight - within([style.paddingTop, style.paddingBottom])
  const scale = Math.min(width / image.naturalWidth, height / image.naturalHeight)
  return scale * window.devicePixelRatio <= 1
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
