/** A tape of so many frames that a bar is wide enough to be drawn shows each; else a column stands for several. */
const WIDEST = 11
const NARROWEST = 3
/** Seconds of pause that are shown as a gap. */
const PAUSE = 20 * 60
const GAP = 14
const MOST_GAPS = 24

export interface Bar {
  /** Its left edge. */
  x: number
  width: number
  /** Positions of its frames: from, and up to but without. */
  from: number
  to: number
}

export interface PassTape {
  bars: Bar[]
  /** Whether each bar is one frame. */
  single: boolean
  /** Positions at which a stretch begins, behind a pause or at the start. */
  stretches: number[]
}

/**
 * @param seconds when each frame was taken; null where it is not known
 * @param apart positions before which there is a gap in any case
 */
export function passTape(seconds: readonly (number | null)[], width: number, apart: readonly number[] = []): PassTape {
  const count = seconds.length
  if (count === 0 || width <= 0) return { bars: [], single: true, stretches: [] }
  const pauses = seconds.flatMap((at, position) => {
    if (position > 0 && apart.includes(position)) return [{ position, pause: Infinity }]
    const before = seconds[position - 1]
    return at !== null && before != null && at - before > PAUSE ? [{ position, pause: at - before }] : []
  })
  const longest = [...pauses].sort((a, b) => Number(a.pause < b.pause) - Number(a.pause > b.pause)).slice(0, MOST_GAPS)
  const breaks = longest.map(({ position }) => position).sort((a, b) => a - b)
  const stretches = [0, ...breaks]
  const unit = Math.min(WIDEST, (width - breaks.length * GAP) / count)
  const single = unit >= NARROWEST
  const bars: Bar[] = []
  let x = 0
  stretches.forEach((first, n) => {
    const end = stretches[n + 1] ?? count
    if (n > 0) x += GAP
    const each = single ? 1 : Math.max(1, Math.ceil(2 / Math.max(unit, 0.0001)))
    for (let from = first; from < end; from += each) {
      const to = Math.min(end, from + each)
      bars.push({ x, width: (to - from) * unit, from, to })
      x += (to - from) * unit
    }
  })
  return { bars, single, stretches }
}

/** The last bar that something holds for, as it does for all before it; the first bar where it holds for none. */
function lastOf(bars: readonly Bar[], holds: (bar: Bar) => boolean): Bar | undefined {
  let [low, high] = [0, bars.length - 1]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    const bar = bars[middle]
    if (bar && holds(bar)) low = middle
    else high = middle - 1
  }
  return bars[low]
}

/** The position at a place: of a bar that stands for several frames, the one that lies there. */
export function positionAt(bars: readonly Bar[], x: number): number {
  const bar = lastOf(bars, (each) => each.x <= x)
  if (!bar) return 0
  const share = bar.width === 0 ? 0 : Math.max(0, Math.min(0.999, (x - bar.x) / bar.width))
  return bar.from + Math.floor(share * (bar.to - bar.from))
}

/** The bar that a position is in. */
export const barOf = (bars: readonly Bar[], position: number): Bar | undefined =>
  lastOf(bars, ({ from }) => from <= position)
