import type { Edit, Tape } from '../api/client'

/** A pause longer than this is folded: it takes the width of a fold, however long it was. */
const FOLD_AFTER = 90 * 60
const FOLD = 30
const BAR = 4
const NARROWEST = 54
/** So wide is the number of an entry: its ground, and each digit. */
const [GROUND, DIGIT] = [18, 8]

export interface Bar {
  x: number
  count: number
  entry: number
}
/** Of a frame: a tape has thousands, so there is one object of each. */
interface Place {
  x: number
  id: number
  entry: number
  tick: number
}
interface Frame extends Place {
  /** 0, dark, to 1, bright. */
  light: number | null
}
export interface Stretch {
  x: number
  width: number
  from: number
  to: number
}
export interface TapeLayout {
  bars: Bar[]
  folds: number[]
  stretches: Stretch[]
  /** Where each entry begins; its number is shown where it covers no other one. */
  marks: { number: number; x: number; shown: boolean }[]
  /** Where every dated frame stands, left to right. */
  places: readonly Place[]
  /** Points of the brightness line, a stroke for each stretch; y from 0, dark, to 1, bright. */
  light: { x: number; y: number }[][]
  most: number
}

/**
 * Where the frames stand on a tape of this width: time runs to the right, long pauses are folded, and each stretch
 * between folds is as wide as the root of its duration, so that a minute's burst is still seen beside an evening.
 */
export function layOut(tape: Tape, width: number): TapeLayout {
  const frames: Frame[] = []
  for (const { number, ticks, frames: ids, brightness } of tape) {
    ticks.forEach((tick, i) => {
      if (tick !== null) frames.push({ x: 0, id: ids[i] ?? 0, entry: number, tick, light: brightness[i] ?? null })
    })
  }
  frames.sort((a, b) => a.tick - b.tick || a.entry - b.entry)
  const runs: Frame[][] = []
  let before: number | null = null
  for (const frame of frames) {
    if (before === null || frame.tick - before > FOLD_AFTER) runs.push([])
    runs.at(-1)?.push(frame)
    before = frame.tick
  }
  const weights = runs.map((run) => Math.sqrt((run.at(-1)?.tick ?? 0) - (run[0]?.tick ?? 0) + 60))
  const sum = weights.reduce((a, b) => a + b, 0)
  const room = Math.max(0, width - FOLD * Math.max(0, runs.length - 1) - NARROWEST * runs.length)
  const layout: TapeLayout = { bars: [], folds: [], stretches: [], marks: [], places: frames, light: [], most: 1 }
  const marked = new Set<number>()
  let x = 0
  runs.forEach((run, i) => {
    const from = run[0]?.tick ?? 0
    const to = run.at(-1)?.tick ?? from
    const wide = NARROWEST + (room * (weights[i] ?? 0)) / (sum || 1)
    layout.stretches.push({ x, width: wide, from, to })
    const bins: (Bar[] | undefined)[] = []
    const light: ({ sum: number; count: number } | undefined)[] = []
    for (const frame of run) {
      const at = to === from ? 0 : ((frame.tick - from) / (to - from)) * (wide - BAR)
      const bin = Math.round(at / BAR)
      frame.x = x + at
      const inBin = (bins[bin] ??= [])
      let bar = inBin.find(({ entry }) => entry === frame.entry)
      if (!bar) inBin.push((bar = { x: x + bin * BAR, count: 0, entry: frame.entry }))
      layout.most = Math.max(layout.most, ++bar.count)
      if (frame.light !== null) {
        const so = (light[bin] ??= { sum: 0, count: 0 })
        so.sum += frame.light
        so.count++
      }
      if (!marked.has(frame.entry)) {
        marked.add(frame.entry)
        layout.marks.push({ number: frame.entry, x: x + at, shown: false })
      }
    }
    layout.bars.push(...bins.flatMap((inBin) => inBin ?? []))
    layout.light.push(light.flatMap((so, bin) => (so ? [{ x: x + bin * BAR, y: so.sum / so.count }] : [])))
    x += wide
    if (i < runs.length - 1) {
      layout.folds.push(x + FOLD / 2)
      x += FOLD
    }
  })
  let free = -Infinity
  for (const mark of layout.marks) {
    mark.shown = mark.x >= free
    if (mark.shown) free = mark.x + GROUND + DIGIT * String(mark.number).length
  }
  return layout
}

/** What moving the beginning of an entry to a frame means: which frames go to which entry. */
export function moveBreak(tape: Tape, number: number, to: number): Edit | null {
  const before = tape.find((entry) => entry.number === number - 1)
  const own = tape.find((entry) => entry.number === number)
  if (!before || !own) return null
  const back = before.frames.indexOf(to)
  if (back > 0) return { do: 'move', frames: before.frames.slice(back), to: own.frames[0] ?? 0 }
  const on = own.frames.indexOf(to)
  return on > 0 ? { do: 'move', frames: own.frames.slice(0, on), to: before.frames[0] ?? 0 } : null
}
