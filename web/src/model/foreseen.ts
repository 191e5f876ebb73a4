import type { Edit, Entry, Sheet, Tape } from '../api/client'

/** What the page shows of a sheet: its entries and where their frames lie. */
export interface Shown {
  sheet: Sheet
  tape: Tape
}

/** @returns the number of the entry where a frame lies */
export function homeOf({ sheet, tape }: Shown, frame: number): number | undefined {
  return (
    tape.find((entry) => entry.frames[0] === frame || entry.frames.includes(frame)) ??
    sheet.entries.find((entry) => entry.frame === frame)
  )?.number
}

/**
 * The sheet as an edit will leave it, shown at once until the server has answered. Frames and times are exact; amounts
 * of an entry that is cut are taken in proportion, and folders and file names stay what they were: those are the
 * server's to settle.
 */
export function foreseen(shown: Shown, edit: Edit): Shown {
  const groups = regrouped(shown, edit)
  if (groups === null) return shown
  return {
    tape: groups.map(({ entry }) => entry),
    sheet: { ...shown.sheet, entries: groups.flatMap((group) => entryOf(shown.sheet.entries, group)) },
  }
}

interface Group {
  /** The entry that it goes on from; null for a new one. */
  home: number | null
  /** How many of its frames come from which entry. */
  from: ReadonlyMap<number, number>
  entry: Tape[number]
}

/** One entry is cut in two: the others stay as they are, whatever thousands of frames they have. */
function cut({ tape }: Shown, frame: number): Group[] {
  const part = (of: Tape[number], home: number | null, from: number, to: number): Group => ({
    home,
    from: new Map([[of.number, to - from]]),
    entry: {
      number: of.number,
      frames: of.frames.slice(from, to),
      cameras: of.cameras.slice(from, to),
      ticks: of.ticks.slice(from, to),
      brightness: of.brightness.slice(from, to),
    },
  })
  return tape
    .flatMap((entry) => {
      const all = entry.frames.length
      const at = entry.frames.indexOf(frame)
      return at > 0
        ? [part(entry, entry.number, 0, at), part(entry, null, at, all)]
        : [{ home: entry.number, from: new Map([[entry.number, all]]), entry }]
    })
    .sort((a, b) => (a.entry.ticks[0] ?? Infinity) - (b.entry.ticks[0] ?? Infinity) || 0)
    .map((group, i) => ({ ...group, entry: { ...group.entry, number: i + 1 } }))
}

function regrouped(shown: Shown, edit: Edit): Group[] | null {
  if (edit.do === 'split') return cut(shown, edit.frame)
  if (edit.do !== 'join' && edit.do !== 'move') return null
  const { tape } = shown
  const frames = tape
    .flatMap((entry) =>
      entry.frames.map((id, i) => ({
        id,
        home: entry.number,
        camera: entry.cameras[i] ?? '',
        tick: entry.ticks[i] ?? null,
        light: entry.brightness[i] ?? null,
      })),
    )
    .sort((a, b) => (a.tick ?? Infinity) - (b.tick ?? Infinity) || 0)
  const moved = new Set(edit.do === 'move' ? edit.frames : [])
  const joined = edit.do === 'join' ? homeOf(shown, edit.frame) : undefined
  const taker = edit.do === 'move' && edit.to !== null ? (homeOf(shown, edit.to) ?? null) : null
  const homeThen = (frame: (typeof frames)[number]): number | null => {
    if (edit.do === 'join') return frame.home === joined ? joined - 1 : frame.home
    return moved.has(frame.id) ? taker : frame.home
  }
  const groups = new Map<number | null, typeof frames>()
  for (const frame of frames) {
    const home = homeThen(frame)
    const group = groups.get(home)
    if (group) group.push(frame)
    else groups.set(home, [frame])
  }
  return [...groups].map(([home, group], i) => ({
    home,
    from: counted(group),
    entry: {
      number: i + 1,
      frames: group.map((frame) => frame.id),
      cameras: group.map((frame) => frame.camera),
      ticks: group.map((frame) => frame.tick),
      brightness: group.map((frame) => frame.light),
    },
  }))
}

function counted(frames: readonly { home: number }[]): Map<number, number> {
  const from = new Map<number, number>()
  for (const { home } of frames) from.set(home, (from.get(home) ?? 0) + 1)
  return from
}

function entryOf(entries: Entry[], { home, from, entry }: Group): Entry[] {
  const base = entries.find((each) => each.number === (home ?? [...from.keys()][0]))
  if (!base) return []
  const amount = (of: (entry: Entry) => number) =>
    Math.round(
      [...from].reduce((sum, [number, frames]) => {
        const each = entries.find((one) => one.number === number)
        return each ? sum + (of(each) * frames) / each.frames : sum
      }, 0),
    )
  const isKnown = (tick: number | null): tick is number => tick !== null
  const untouched = from.size === 1 && from.get(base.number) === base.frames
  return [
    {
      ...base,
      ...(home === null && { name: '', kind: '', client: '', trip: '', description: '', into: null, shoots: [] }),
      number: entry.number,
      frame: entry.frames[0] ?? base.frame,
      frames: entry.frames.length,
      bytes: amount((each) => each.bytes),
      counts: {
        new: amount((each) => each.counts.new),
        filed: amount((each) => each.counts.filed),
        twice: amount((each) => each.counts.twice),
        left_out: amount((each) => each.counts.left_out),
        unreadable: amount((each) => each.counts.unreadable),
      },
      first: clock(entry.ticks.find(isKnown)) ?? null,
      last: clock(entry.ticks.findLast(isKnown)) ?? null,
      notes: untouched ? base.notes : [],
    },
  ]
}

function clock(tick: number | undefined): string | undefined {
  return tick === undefined ? undefined : new Date(tick * 1000).toISOString().slice(0, 19)
}
