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
  const homes = new Map(shown.tape.flatMap((entry) => entry.frames.map((id) => [id, entry.number] as const)))
  return {
    tape: groups.map(({ entry }) => entry),
    sheet: {
      ...shown.sheet,
      entries: groups.flatMap(({ home, entry }) => entryOf(shown.sheet.entries, homes, home, entry)),
    },
  }
}

interface Group {
  /** The entry that it goes on from; null for a new one. */
  home: number | null
  entry: Tape[number]
}

function regrouped(shown: Shown, edit: Edit): Group[] | null {
  if (edit.do !== 'split' && edit.do !== 'join' && edit.do !== 'move') return null
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
  const split = edit.do === 'split' ? tape.find((entry) => entry.frames.includes(edit.frame)) : undefined
  const behind = new Set(edit.do === 'split' ? split?.frames.slice(split.frames.indexOf(edit.frame)) : [])
  const joined = edit.do === 'join' ? homeOf(shown, edit.frame) : undefined
  const taker = edit.do === 'move' && edit.to !== null ? (homeOf(shown, edit.to) ?? null) : null
  const homeThen = (frame: (typeof frames)[number]): number | null => {
    if (edit.do === 'join') return frame.home === joined ? joined - 1 : frame.home
    if (edit.do === 'move') return moved.has(frame.id) ? taker : frame.home
    return behind.has(frame.id) ? null : frame.home
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
    entry: {
      number: i + 1,
      frames: group.map((frame) => frame.id),
      cameras: group.map((frame) => frame.camera),
      ticks: group.map((frame) => frame.tick),
      brightness: group.map((frame) => frame.light),
    },
  }))
}

function entryOf(
  entries: Entry[],
  homes: ReadonlyMap<number, number>,
  home: number | null,
  entry: Tape[number],
): Entry[] {
  const from = new Map<number, number>()
  for (const id of entry.frames) {
    const number = homes.get(id) ?? 0
    from.set(number, (from.get(number) ?? 0) + 1)
  }
  const base = entries.find((each) => each.number === (home ?? [...from.keys()][0]))
  if (!base) return []
  const amount = (of: (entry: Entry) => number) =>
    Math.round(
      [...from].reduce((sum, [number, frames]) => {
        const each = entries.find((one) => one.number === number)
        return each ? sum + (of(each) * frames) / each.frames : sum
      }, 0),
    )
  const ticks = entry.ticks.filter((tick) => tick !== null)
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
      first: clock(ticks[0]) ?? null,
      last: clock(ticks.at(-1)) ?? null,
      notes: untouched ? base.notes : [],
    },
  ]
}

function clock(tick: number | undefined): string | undefined {
  return tick === undefined ? undefined : new Date(tick * 1000).toISOString().slice(0, 19)
}
