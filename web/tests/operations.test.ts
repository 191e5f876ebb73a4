// @vitest-environment jsdom
import { describe, expect, test, vi } from 'vitest'
import type { Edited, Entry, Sheet, SheetFrame, Tape } from '../src/api/client'
import type { Shown } from '../src/model/foreseen'
import { replay, statesOf, told, type Change } from '../src/model/operations'
import { withinNow, type Within } from '../src/model/copying'
import { Frames } from '../src/store/frames'
import type { Sent } from '../src/model/spans'
import type { Keeping, Kept } from '../src/store/kept'
import { Operations } from '../src/store/operations'

const entry = (number: number, ...frames: number[]): Tape[number] => ({
  number,
  frames,
  cameras: frames.map(() => 'A'),
  ticks: frames.map((id) => id * 60),
  brightness: frames.map(() => null),
})

const row = ({ number, frames }: Tape[number]) =>
  ({
    number,
    frame: frames[0] ?? null,
    name: `Entry ${number}`,
    keywords: [],
    frames: frames.length,
    bytes: 0,
    counts: { new: frames.length, filed: 0, twice: 0, left_out: 0, unreadable: 0 },
    notes: [],
  }) as unknown as Entry

/** The sheet as the server tells it. */
function sheetOf(revision: number, ...tape: Tape): Shown {
  const sheet = { id: 1, revision, state: 'sheet', entries: tape.map(row), history: { undo: null, redo: null } }
  return { sheet: sheet as unknown as Sheet, tape }
}

/** What a tab of the browser keeps over a reload. */
function inTab(): Keeping {
  let text = '[]'
  return {
    load: () => JSON.parse(text) as Kept[],
    save: (all) => {
      text = JSON.stringify(all)
    },
  }
}

/** A page with a sheet, and a server that answers when the test says so. */
function page(first: Shown, keeping: Keeping = inTab()) {
  const asked: {
    change: Sent
    key: string
    answer: (revision: number, undo?: string) => void
    refuse: (why: string) => void
  }[] = []
  const settled = vi.fn()
  const operations = new Operations(
    (change, key) =>
      new Promise<Edited>((resolve, reject) => {
        asked.push({
          change,
          key,
          answer: (revision, undo) => {
            resolve({ revision, history: { undo: undo ?? change.do, redo: null } })
          },
          refuse: (why) => {
            reject(new Error(why))
          },
        })
      }),
    settled,
    keeping,
  )
  let now = first
  return {
    operations,
    asked,
    settled,
    shows: () => replay(now, operations.pending()).tape.map((each) => each.frames),
    names: () => replay(now, operations.pending()).sheet.entries.map((each) => each.name),
    ask: (change: Change) => operations.ask(change, replay(now, operations.pending())),
    tell: ({ sheet, tape }: Shown) => {
      now = told(now, sheet, { revision: sheet.revision, entries: tape }) ?? now
      operations.forget(now.sheet.revision)
    },
    sent: (count: number) =>
      vi.waitFor(() => {
        expect(asked).toHaveLength(count)
      }),
  }
}

describe('edits over a reload', () => {
  const first = () => sheetOf(0, entry(1, 1, 2, 3, 4, 5, 6))

  test('what was not answered is sent again, in order, under the keys by which the server knows it', async () => {
    const tab = inTab()
    const before = page(first(), tab)
    for (const frame of [2, 3, 5]) void before.ask({ do: 'split', frame })
    await before.sent(1)
    before.asked[0]?.answer(1)
    await before.sent(2) // the second is on its way, the third waits
    const after = page(sheetOf(1, entry(1, 1), entry(2, 2, 3, 4, 5, 6)), tab)
    expect(after.operations.busy).toBe(true)
    await after.sent(1)
    expect(after.asked[0]).toMatchObject({ change: { do: 'split', frame: 3 }, key: before.asked[1]?.key })
    after.asked[0]?.answer(2)
    await after.sent(2)
    expect(after.asked[1]).toMatchObject({ change: { do: 'split', frame: 5 } })
    after.asked[1]?.answer(3)
    await vi.waitFor(() => {
      expect(after.settled).toHaveBeenCalledOnce() // the sheet is asked for anew
    })
    expect(tab.load()).toEqual([])
  })

  test('a new edit waits for what the page before had asked', async () => {
    const tab = inTab()
    void page(first(), tab).ask({ do: 'say', frame: 1, words: { name: 'Kiln' } })
    const after = page(first(), tab)
    void after.ask({ do: 'say', frame: 1, words: { name: 'Kiln opening' } })
    await after.sent(1)
    expect(after.asked[0]).toMatchObject({ change: { words: { name: 'Kiln' } } })
    after.asked[0]?.answer(1)
    await after.sent(2)
    expect(after.asked[1]).toMatchObject({ change: { words: { name: 'Kiln opening' } } })
  })

  test('what is refused then is told, and not asked a third time', async () => {
    const tab = inTab()
    void page(first(), tab).ask({ do: 'join', frame: 4 })
    const after = page(first(), tab)
    await after.sent(1)
    after.asked[0]?.refuse('No entry begins there.')
    await vi.waitFor(() => {
      expect(after.operations.refusals().map(({ message }) => message)).toEqual(['No entry begins there.'])
    })
    expect(tab.load()).toEqual([])
  })

  test('thousands of frames are kept by a pair of ids', async () => {
    const tab = inTab()
    const all = Array.from({ length: 5000 }, (_, i) => i + 1)
    const before = page(sheetOf(0, entry(1, ...all)), tab)
    void before.ask({ do: 'leave_out', frames: all })
    await before.sent(1)
    expect(tab.load()).toMatchObject([{ sent: { do: 'leave_out', frames: [], spans: [[1, 5000]] } }])
  })
})

describe('edits on their way', () => {
  test('an answer that tells of the time before does not show old entries again', async () => {
    const { ask, asked, sent, shows, tell } = page(sheetOf(0, entry(1, 1, 2, 3, 4, 5, 6)))
    void ask({ do: 'split', frame: 3 })
    void ask({ do: 'split', frame: 5 })
    const both = [[1, 2], [3, 4], [5, 6]] // prettier-ignore
    expect(shows()).toEqual(both)
    await sent(1)
    asked[0]?.answer(1)
    await sent(2) // sent in order, one after another
    tell(sheetOf(1, entry(1, 1, 2), entry(2, 3, 4, 5, 6)))
    expect(shows()).toEqual(both)
    asked[1]?.answer(2)
    await vi.waitFor(() => {
      expect(shows()).toEqual(both)
    })
    tell(sheetOf(0, entry(1, 1, 2, 3, 4, 5, 6))) // asked for long ago
    expect(shows()).toEqual(both)
    tell(sheetOf(2, entry(1, 1, 2), entry(2, 3, 4), entry(3, 5, 6)))
    expect(shows()).toEqual(both)
  })

  test('joining means the pair that was seen, whatever is answered meanwhile', async () => {
    const { ask, asked, sent, shows } = page(sheetOf(0, entry(1, 1, 2, 3, 4), entry(2, 5, 6)))
    void ask({ do: 'split', frame: 3 })
    void ask({ do: 'join', frame: 5 }) // “Join with 2” on what is the third entry by then
    expect(shows()).toEqual([[1, 2], [3, 4, 5, 6]]) // prettier-ignore
    await sent(1)
    asked[0]?.answer(1)
    await sent(2)
    expect(asked[1]?.change).toEqual({ do: 'join', frame: 5 })
    expect(shows()).toEqual([[1, 2], [3, 4, 5, 6]]) // prettier-ignore
  })

  test('a refusal stays to be read when the next edit is accepted, and what was refused is not shown', async () => {
    const { ask, asked, sent, operations, shows, settled } = page(sheetOf(0, entry(1, 1, 2, 3), entry(2, 4)))
    const refused = ask({ do: 'split', frame: 2 })
    void ask({ do: 'join', frame: 4 })
    await sent(1)
    asked[0]?.refuse('The copy has begun.')
    await expect(refused).rejects.toThrow('The copy has begun.')
    await sent(2)
    asked[1]?.answer(1)
    expect(await operations.idle()).toBe(true) // what was refused before is known by now
    expect(operations.refusals().map(({ message }) => message)).toEqual(['The copy has begun.'])
    expect(shows()).toEqual([[1, 2, 3, 4]])
    expect(settled).toHaveBeenCalledOnce() // the sheet is asked for once, when all is answered
    const [refusal] = operations.refusals()
    if (refusal) operations.dismiss(refusal)
    expect(operations.refusals()).toEqual([])
  })

  test('a copy that waits for an edit is told when that was refused', async () => {
    const { ask, asked, sent, operations } = page(sheetOf(0, entry(1, 1, 2)))
    ask({ do: 'split', frame: 2 }).catch(() => undefined)
    const idle = operations.idle()
    await sent(1)
    asked[0]?.refuse('No.')
    expect(await idle).toBe(false)
  })

  test('an undo shows at once what was there before, while its edit is still on its way and afterwards', async () => {
    const { ask, asked, sent, shows, tell } = page(sheetOf(0, entry(1, 1, 2, 3)))
    void ask({ do: 'split', frame: 2 })
    void ask({ do: 'undo' })
    expect(shows()).toEqual([[1, 2, 3]])
    await sent(1)
    asked[0]?.answer(1, 'a split')
    await sent(2)
    asked[1]?.answer(2)
    tell(sheetOf(2, entry(1, 1, 2, 3)))
    expect(shows()).toEqual([[1, 2, 3]])
  })

  test('an undo of what another page did waits for the server', async () => {
    const { ask, asked, operations, sent, shows, tell } = page(sheetOf(0, entry(1, 1, 2, 3)))
    void ask({ do: 'split', frame: 2 })
    await sent(1)
    asked[0]?.answer(1, 'a split')
    await operations.idle()
    const other = sheetOf(2, entry(1, 1), entry(2, 2), entry(3, 3))
    tell({ ...other, sheet: { ...other.sheet, history: { undo: 'a split somewhere else', redo: null } } })
    void ask({ do: 'undo' })
    expect(shows()).toEqual([[1], [2], [3]])
  })

  test('names and keywords stand there at once, and frames that are left out', () => {
    const { ask, names, operations } = page(sheetOf(0, entry(1, 1, 2), entry(2, 3)))
    void ask({ do: 'say', frame: 3, words: { name: 'Quay', add_keywords: ['Places › Quay'] } })
    void ask({ do: 'leave_out', frames: [1, 2] })
    void ask({ do: 'take_back', frames: [2] })
    expect(names()).toEqual(['Entry 1', 'Quay'])
    const base = sheetOf(0, entry(1, 1, 2), entry(2, 3))
    expect(replay(base, operations.pending()).sheet.entries[1]?.keywords).toEqual(['Places › Quay'])
    expect([...statesOf(operations.pending())]).toEqual([[1, 'left_out'], [2, 'new']]) // prettier-ignore
    void ask({ do: 'undo' })
    expect(statesOf(operations.pending()).get(2)).toBe('left_out')
  })

  test('a name is that of the entry that was meant, whatever is split on another page meanwhile', () => {
    const { ask, names, operations, tell } = page(sheetOf(0, entry(1, 1, 2), entry(2, 3)))
    void ask({ do: 'say', frame: 3, words: { name: 'Quay' } })
    tell(sheetOf(1, entry(1, 1), entry(2, 2), entry(3, 3)))
    expect(names()).toEqual(['Entry 1', 'Entry 2', 'Quay'])
    expect(operations.pending()[0]?.change).toMatchObject({ frame: 3 })
  })

  test('sheet and tape are taken together, or not yet', () => {
    const [old, one] = [sheetOf(1, entry(1, 1, 2)), sheetOf(2, entry(1, 1), entry(2, 2))]
    const before = told(null, old.sheet, { revision: 1, entries: old.tape })
    expect(before).toEqual(old)
    expect(told(before, one.sheet, { revision: 1, entries: old.tape })).toBe(before)
    expect(told(before, one.sheet, { revision: 2, entries: one.tape })).toEqual(one)
    expect(told(before, { ...one.sheet, id: 7 }, undefined)).toBeNull()
  })
})

describe('progress within files', () => {
  test('what an event keeps does not grow with the files that were copied', () => {
    let within: Within = {}
    for (let file = 0; file < 2_000; file++) within = withinNow(within, `${file}.jpg`, 'copying', file)
    within = withinNow(within, '1990.jpg', 'verifying', 7)
    expect(Object.keys(within)).toHaveLength(16)
    expect(within['1990.jpg']).toEqual({ copying: 1_990, verifying: 7 })
    expect(within['1999.jpg']).toEqual({ copying: 1_999, verifying: 0 })
  })
})

describe('frames by their ids', () => {
  const frame = (id: number, name: string) => ({ id, name }) as SheetFrame
  const later = () => new Promise((resolve) => setTimeout(resolve))

  /** A store, and a server that answers when the test says so. */
  function shelf() {
    const asked: { ids: number[]; answer: (frames: SheetFrame[] | null) => void }[] = []
    const frames = new Frames<SheetFrame>(
      (ids) =>
        new Promise((resolve, reject) => {
          asked.push({
            ids,
            answer: (found) => {
              if (found) resolve(found)
              else reject(new Error('no answer'))
            },
          })
        }),
    )
    return { frames, asked }
  }

  test('what several strips want is asked for at once, by the hundred, and only once', async () => {
    const { frames, asked } = shelf()
    frames.want([1, 2])
    frames.want([2, 3])
    frames.want(Array.from({ length: 100 }, (_, i) => i + 10))
    await later()
    expect(asked.map(({ ids }) => ids.length)).toEqual([100, 3])
    frames.want([1, 2, 3])
    await later()
    expect(asked).toHaveLength(2)
  })

  test('what was asked for before it changed is shown until it is told anew, not over that', async () => {
    const { frames, asked } = shelf()
    frames.want([1])
    await later()
    frames.outdate()
    frames.want([1])
    await later()
    asked[1]?.answer([frame(1, 'new')])
    await later()
    asked[0]?.answer([frame(1, 'old')])
    await later()
    expect(frames.get(1)?.name).toBe('new')
    frames.outdate()
    expect(frames.get(1)?.name).toBe('new')
  })

  test('what an edit made of a frame is shown until the frame is told anew', async () => {
    const { frames, asked } = shelf()
    frames.want([1])
    await later()
    asked[0]?.answer([frame(1, 'to copy')])
    await later()
    const version = frames.version()
    frames.set(new Map([1, 2].map((id) => [id, (known) => ({ ...known, name: 'left out' })])))
    expect([frames.get(1)?.name, frames.get(2), frames.version()]).toEqual(['left out', undefined, version + 1])
  })

  test('what did not come is asked for again', async () => {
    const { frames, asked } = shelf()
    frames.want([1])
    await later()
    asked[0]?.answer(null)
    await later()
    frames.want([1])
    await later()
    expect(asked).toHaveLength(2)
  })
})
