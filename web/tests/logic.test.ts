import { describe, expect, test } from 'vitest'
import { touched } from '../src/parts/useRectangle'
import { detail, moved } from '../src/places/house-style/pieces'
import type { Edit, Entry, Sheet } from '../src/api/client'
import { foreseen, type Shown } from '../src/model/foreseen'
import { layOut, moveBreak } from '../src/model/tape-layout'

describe('the tape', () => {
  const evening = 1_777_750_000

  test('folds a long pause and marks where each entry begins', () => {
    const tape = layOut(
      [
        { number: 1, frames: [1, 2], cameras: [], ticks: [evening, evening + 60], brightness: [0.5, 0.5] },
        { number: 2, frames: [3], cameras: [], ticks: [evening + 86_400], brightness: [0.1] },
      ],
      1000,
    )
    expect(tape.folds).toHaveLength(1)
    expect(tape.stretches).toHaveLength(2)
    expect(tape.marks.map((mark) => mark.number)).toEqual([1, 2])
    expect(tape.marks[1]?.x).toBeGreaterThan(tape.folds[0] ?? Infinity)
  })

  test('shows the numbers of entries where none covers another', () => {
    const tape = layOut(
      Array.from({ length: 200 }, (_, i) => ({
        number: i + 1,
        frames: [i],
        cameras: [],
        ticks: [evening + i * 60],
        brightness: [null],
      })),
      1200,
    )
    expect(tape.marks).toHaveLength(200)
    const shown = tape.marks.filter((mark) => mark.shown)
    expect(shown[0]?.number).toBe(1)
    expect(shown.length).toBeGreaterThan(25)
    const room = shown.slice(1).map((mark, i) => mark.x - (shown[i]?.x ?? 0))
    expect(Math.min(...room)).toBeGreaterThanOrEqual(26)
    expect(Math.min(...room.slice(-10)), 'of three digits').toBeGreaterThanOrEqual(42)
  })

  test('keeps every frame, within its width', () => {
    const ticks = Array.from({ length: 2000 }, (_, i) => evening + i * 7)
    const tape = layOut([{ number: 1, frames: ticks, cameras: [], ticks, brightness: [] }], 1200)
    expect(tape.bars.reduce((sum, bar) => sum + bar.count, 0)).toBe(2000)
    expect(Math.max(...tape.bars.map((bar) => bar.x))).toBeLessThan(1200)
    expect(tape.most).toBe(Math.max(...tape.bars.map((bar) => bar.count)))
  })

  test('draws brightness only where it is known', () => {
    const tape = layOut(
      [
        {
          number: 1,
          frames: [1, 2, 3],
          cameras: [],
          ticks: [evening, evening + 1000, evening + 2000],
          brightness: [0.25, null, 0.75],
        },
      ],
      1000,
    )
    expect(tape.light[0]?.map((point) => point.y)).toEqual([0.25, 0.75])
  })

  test('undated frames have no place on it', () => {
    expect(
      layOut(
        [{ number: 1, frames: [7, 8], cameras: [], ticks: [evening, null], brightness: [null, null] }],
        1000,
      ).places.map((place) => place.id),
    ).toEqual([7])
  })

  test('moving where an entry begins moves the frames between', () => {
    const tape = [
      { number: 1, frames: [1, 2, 3], cameras: [], ticks: [], brightness: [] },
      { number: 2, frames: [4, 5, 6], cameras: [], ticks: [], brightness: [] },
    ]
    expect(moveBreak(tape, 2, 3)).toEqual({ do: 'move', frames: [3], to: 4 })
    expect(moveBreak(tape, 2, 6)).toEqual({ do: 'move', frames: [4, 5], to: 1 })
    expect(moveBreak(tape, 2, 4)).toBeNull()
    expect(moveBreak(tape, 2, 1)).toBeNull() // an entry is not left empty by dragging
    expect(moveBreak(tape, 1, 5)).toBeNull()
  })

  test('shows an edit before the server has answered, as the server will', () => {
    const entry = (number: number, ...frames: number[]) => ({
      number,
      frames,
      cameras: frames.map(() => 'A'),
      ticks: frames.map((id) => id * 60),
      brightness: frames.map(() => null),
    })
    const tape = [entry(1, 1, 2, 3), entry(2, 4, 5, 6)]
    const row = (number: number, name: string, fresh: number) =>
      ({
        number,
        frame: number * 3 - 2,
        name,
        frames: 3,
        bytes: 300,
        counts: { new: fresh, filed: 3 - fresh, left_out: 0, unreadable: 0 },
        notes: [],
      }) as unknown as Entry
    const shown = { tape, sheet: { entries: [row(1, 'Kiln', 3), row(2, 'Quay', 3)] } as Sheet }
    const shape = (edit: Edit) => foreseen(shown, edit).tape.map((each) => each.frames)
    const names = (edit: Edit) =>
      foreseen(shown, edit).sheet.entries.map((each) => `${each.name} ${each.frames} ${each.counts.new} ${each.bytes}`)
    expect(shape({ do: 'split', frame: 2 })).toEqual([[1], [2, 3], [4, 5, 6]])
    expect(names({ do: 'split', frame: 2 })).toEqual(['Kiln 1 1 100', ' 2 2 200', 'Quay 3 3 300'])
    expect(shape({ do: 'join', frame: 4 })).toEqual([[1, 2, 3, 4, 5, 6]])
    expect(names({ do: 'join', frame: 4 })).toEqual(['Kiln 6 6 600'])
    expect(shape({ do: 'move', frames: [3], to: 4 })).toEqual([
      [1, 2],
      [3, 4, 5, 6],
    ])
    expect(names({ do: 'move', frames: [1, 2], to: 4 })).toEqual(['Quay 5 5 500', 'Kiln 1 1 100'])
    expect(shape({ do: 'move', frames: [2, 5], to: null })).toEqual([
      [1, 3],
      [2, 5],
      [4, 6],
    ])
    expect(foreseen(shown, { do: 'split', frame: 2 }).sheet.entries[1]).toMatchObject({
      number: 2,
      first: '1970-01-01T00:02:00',
      last: '1970-01-01T00:03:00',
    })
    expect(foreseen(shown, { do: 'undo' })).toBe(shown)
    // cut while another lies within its time: entries stand in the order of their first frames
    const within: Shown = {
      ...shown,
      tape: [
        {
          number: 1,
          frames: [1, 2, 4, 5],
          cameras: ['A', 'A', 'A', 'A'],
          ticks: [1, 2, 4, 5],
          brightness: [0, 0, 0, 0],
        },
        { number: 2, frames: [3], cameras: ['B'], ticks: [3], brightness: [0] },
      ],
    }
    expect(foreseen(within, { do: 'split', frame: 4 }).tape.map(({ number, frames }) => [number, frames])).toEqual([
      [1, [1, 2]],
      [2, [3]],
      [3, [4, 5]],
    ])
  })

  test('an empty sheet has an empty tape', () => {
    expect(layOut([], 1000)).toMatchObject({ bars: [], folds: [], marks: [] })
  })
})

describe('the contact sheet', () => {
  test('a rectangle selects the cells it touches', () => {
    const grid = { columns: 4, cell: 100, height: 150, count: 10 }
    expect(touched({ x: 150, y: 20 }, { x: 250, y: 160 }, grid)).toEqual([1, 2, 5, 6])
    expect(touched({ x: 390, y: 400 }, { x: -20, y: 310 }, grid)).toEqual([8, 9])
  })
})

describe('patterns', () => {
  test('a chip moves and the others close up', () => {
    expect(moved(['a', 'b', 'c'], 0, 2)).toEqual(['b', 'c', 'a'])
    expect(moved(['a', 'b', 'c'], 2, 1)).toEqual(['a', 'c', 'b'])
    expect(moved(['a', 'b'], 0, -1)).toEqual(['a', 'b'])
  })

  test('a chip says how its piece is written', () => {
    expect(detail({ piece: 'counter', width: 5, start: 10 })).toBe('00010')
    expect(detail({ piece: 'shoot_name', case: 'lower', blanks: 'hyphen', length: 12 })).toBe(
      'lower case, -, 12 letters',
    )
  })
})
