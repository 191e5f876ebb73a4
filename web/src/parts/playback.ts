/** A place of a run that is worth a stop; `at` counts the run's own frames from 0. */
export interface Mark {
  at: number
  words: string
}

/** Which frame of a run is due so long after frame `from` was shown; at its end it stays. */
export function due(from: number, millis: number, rate: number, count: number): number {
  return Math.min(count - 1, from + Math.floor((millis * rate) / 1000 + 1e-6))
}

/** The mark after a frame, round again at the end. */
export function nextMark(marks: readonly Mark[], at: number): Mark | undefined {
  return marks.find((mark) => mark.at > at) ?? marks[0]
}

/** A run as it is played: its frames as positions within their entry, in order, and its marks. */
export interface Run {
  positions: number[]
  marks: Mark[]
  /** Where the run that was asked for begins in it. */
  start: number
}

interface Note {
  code: string
  title: string
  spans: readonly { first: number; count: number }[]
  missed: readonly number[]
}

const first = (note: Note) => note.spans[0]?.first ?? 0

/**
 * The time-lapse that a note tells of, with those that it goes on in, or that go on in it: where the interval changes
 * is where a movie of it goes on. Marked are the frames behind which one is missed, and those at which it changes.
 */
export function runOf(notes: readonly Note[], position: number): Run {
  const changes = new Map(notes.filter((note) => note.code === 'interval_change').map((note) => [first(note), note]))
  const lapses = notes.filter((note) => note.code === 'time_lapse').sort((a, b) => first(a) - first(b))
  const chains: Note[][] = []
  for (const lapse of lapses) {
    const before = chains.at(-1)
    if (before && changes.has(first(lapse))) before.push(lapse)
    else chains.push([lapse])
  }
  const chain = chains.find((each) => each.some((lapse) => first(lapse) === position)) ?? []
  const positions = [
    ...new Set(
      chain.flatMap((lapse) =>
        lapse.spans.flatMap((span) => Array.from({ length: span.count }, (_, i) => span.first + i)),
      ),
    ),
  ].sort((a, b) => a - b)
  const at = new Map(positions.map((each, index) => [each, index]))
  const marks = [
    ...chain.flatMap((lapse) =>
      lapse.missed.map((each) => ({ position: each, words: 'a frame is missed after this one' })),
    ),
    ...[...changes].map(([each, note]) => ({ position: each, words: note.title.toLowerCase() })),
  ]
    .flatMap(({ position: each, words }) => {
      const index = at.get(each)
      return index === undefined ? [] : [{ at: index, words }]
    })
    .sort((a, b) => a.at - b.at)
  return { positions, marks, start: at.get(position) ?? 0 }
}

/** The least span of brightness that fills the height: less would make much of nothing. */
const LEAST_SPAN = 0.1

/**
 * The brightness of a run as the path of an SVG of this size, spread over its height; a frame that was not measured
 * breaks it.
 */
export function curve(light: readonly (number | null)[], width: number, height: number): string {
  const known = light.filter((value) => value !== null)
  if (known.length === 0) return ''
  // not Math.min(...): there may be more frames than a call takes arguments
  const low = known.reduce((least, value) => Math.min(least, value))
  const high = known.reduce((most, value) => Math.max(most, value))
  const span = Math.max(LEAST_SPAN, high - low)
  const base = (low + high - span) / 2
  const step = light.length > 1 ? width / (light.length - 1) : 0
  let down = false
  return light
    .map((value, i) => {
      if (value === null) {
        down = false
        return ''
      }
      const point = `${(i * step).toFixed(1)} ${(height - ((value - base) / span) * height).toFixed(1)}`
      const drawn = `${down ? 'L' : 'M'}${point}`
      down = true
      return drawn
    })
    .join('')
}
