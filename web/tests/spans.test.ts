import { expect, test } from 'vitest'
import { sent } from '../src/model/spans'

const entry = (number: number, frames: number[]) => ({
  number,
  frames,
  cameras: frames.map(() => 'A'),
  ticks: frames,
  brightness: frames.map(() => null),
})
const all = Array.from({ length: 20_000 }, (_, i) => i + 1)
const tape = [entry(1, all.slice(0, 12_000)), entry(2, all.slice(12_000).reverse())]

test('everything selected is a pair of ids for each entry, whatever their order', () => {
  const edit = sent({ do: 'leave_out', frames: [...all].reverse() }, tape)
  expect(edit).toEqual({
    do: 'leave_out',
    frames: [],
    spans: [
      [1, 12_000],
      [20_000, 12_001],
    ],
  })
  expect(JSON.stringify(edit).length).toBeLessThan(100)
})

test('exceptions cut a span; what stands alone, and what the page has not been told of, is named by its id', () => {
  const frames = all.filter((id) => id !== 500 && id !== 503 && id <= 1000).concat(99_999)
  expect(sent({ do: 'move', frames, to: 12_500 }, tape)).toEqual({
    do: 'move',
    frames: [501, 502, 99_999],
    spans: [
      [1, 499],
      [504, 1000],
    ],
    to: 12_500,
  })
})

test('every frame is named once: spans and ids together are what was selected', () => {
  for (let seed = 1; seed <= 8; seed++) {
    const frames = all.filter((id) => (id * 2654435761 * seed) % 97 > 40)
    const edit = sent({ do: 'take_back', frames }, tape)
    if (edit.do !== 'take_back') throw new Error('It is another edit.')
    const named = (edit.spans ?? []).flatMap(([first = 0, last = 0]) => {
      const inOrder = tape.find((each) => each.frames.includes(first))?.frames ?? []
      return inOrder.slice(inOrder.indexOf(first), inOrder.indexOf(last) + 1)
    })
    expect([...named, ...(edit.frames ?? [])].sort((a, b) => a - b)).toEqual(frames)
  }
})

test('other edits are sent as they are', () => {
  expect(sent({ do: 'split', frame: 5 }, tape)).toEqual({ do: 'split', frame: 5 })
})
