/** How the light of a picture is spread, from its pixels in sRGB. */
export interface Light {
  /** Shares of the pixels, by luminance (ITU-R BT.709 weights), from dark to bright. */
  luminance: number[]
  /** The same by the brightest of a pixel's three channels. */
  brightest: number[]
  /** Share of the pixels of which a channel is full. */
  blown: number
  /** Share of the pixels of which no channel has anything. */
  black: number
}

export const BINS = 64

/** Common practice: JPEG leaves clipped values one or two off the end. */
const FULL = 254
const NOTHING = 1

/** @param rgba four bytes a pixel, as a canvas gives them */
export function lightOf(rgba: Uint8ClampedArray): Light {
  const pixels = rgba.length / 4
  const luminance = new Array<number>(BINS).fill(0)
  const brightest = new Array<number>(BINS).fill(0)
  let blown = 0
  let black = 0
  const count = (bins: number[], value: number) => {
    const bin = Math.min(BINS - 1, Math.floor((value * BINS) / 256))
    bins[bin] = (bins[bin] ?? 0) + 1 / pixels
  }
  for (let at = 0; at < rgba.length; at += 4) {
    const [r = 0, g = 0, b = 0] = [rgba[at], rgba[at + 1], rgba[at + 2]]
    const most = Math.max(r, g, b)
    count(luminance, 0.2126 * r + 0.7152 * g + 0.0722 * b)
    count(brightest, most)
    if (most >= FULL) blown++
    else if (most <= NOTHING) black++
  }
  return { luminance, brightest, blown: blown / pixels, black: black / pixels }
}

/** Pixels from one line of a hatching to the next. */
const PITCH = 10

/** Clipped areas, to lie over the frame: black lines rise over what is blown, white ones fall over black. */
export function hatched(rgba: Uint8ClampedArray, width: number): Uint8ClampedArray<ArrayBuffer> {
  const lines = new Uint8ClampedArray(rgba.length)
  for (let at = 0; at < rgba.length; at += 4) {
    const most = Math.max(rgba[at] ?? 0, rgba[at + 1] ?? 0, rgba[at + 2] ?? 0)
    const x = (at / 4) % width
    const y = Math.floor(at / 4 / width)
    if (most >= FULL && (x + y) % PITCH < PITCH / 2) lines[at + 3] = 255
    else if (most <= NOTHING && (x + PITCH * width - y) % PITCH < PITCH / 2) lines.fill(255, at, at + 4)
  }
  return lines
}

/** A share in words: 0 %, < 0.1 %, 1.2 %, 34 %. */
export function percent(share: number): string {
  if (share === 0) return '0 %'
  if (share < 0.001) return '< 0.1 %'
  return `${(share * 100).toLocaleString('en', { maximumFractionDigits: share < 0.1 ? 1 : 0 })} %`
}
