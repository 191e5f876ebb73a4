import { describe, expect, it } from 'vitest'
import type { Pass, PassFrame } from '../src/api/client'
import { choicesOf, isMeant } from '../src/model/narrow'
import { passFrame } from './pass-frames'

const facets: Pass['facets'] = [
  { by: 'camera', value: 'Heron 5' },
  { by: 'camera', value: 'Wren' },
  { by: 'keyword', value: 'harbour' },
  { by: 'hint', value: 'black' },
  { by: 'kind', value: 'JPEG' },
]
const frame = (id: number, numbers: number[], stars: number | null = null, seconds: number | null = null): PassFrame =>
  passFrame(id, { stars, seconds, facets: [...numbers, 4] })
const frames = [
  frame(1, [0, 2], 3, 3600 * 19 + 5),
  frame(2, [0], null, 3600 * 20),
  frame(3, [1, 2], 1, 3600 * 20 + 3599),
  frame(4, [1, 3]),
]

describe('a pass that is narrowed', () => {
  it('goes through frames of which all holds that is chosen', () => {
    const ids = (chosen: Parameters<typeof isMeant>[2]) =>
      frames.filter((one) => isMeant(facets, one, chosen)).map(({ id }) => id)
    expect(ids({})).toEqual([1, 2, 3, 4])
    expect(ids({ camera: 'Wren' })).toEqual([3, 4])
    expect(ids({ camera: 'Wren', keyword: 'harbour' })).toEqual([3])
    expect(ids({ stars: '1' })).toEqual([1, 3])
    expect(ids({ stars: '2' })).toEqual([1])
    expect(ids({ hour: String(3600 * 20) })).toEqual([2, 3])
    expect(ids({ hint: 'black', keyword: 'harbour' })).toEqual([])
  })

  it('goes by the tabs that frames have', () => {
    const tabbed = frames.map((one, n) => ({ ...one, tabs: n < 3 ? [5, 11].slice(0, n) : [] }))
    expect(tabbed.filter((one) => isMeant(facets, one, { tab: '11' })).map(({ id }) => id)).toEqual([3])
    expect(choicesOf(facets, tabbed, {}, 'tab')).toEqual([
      { value: '5', frames: 2 },
      { value: '11', frames: 1 },
    ])
  })

  it('says of each choice how many it would leave beside the others', () => {
    expect(choicesOf(facets, frames, { keyword: 'harbour' }, 'camera')).toEqual([
      { value: 'Heron 5', frames: 1 },
      { value: 'Wren', frames: 1 },
    ])
    expect(choicesOf(facets, frames, { camera: 'Wren' }, 'camera').map((choice) => choice.frames)).toEqual([2, 2])
    expect(choicesOf(facets, frames, {}, 'stars').map(({ value, frames }) => `${value}:${frames}`)).toEqual([
      '1:2',
      '2:1',
      '3:1',
    ])
    expect(choicesOf(facets, frames, {}, 'hint')).toEqual([{ value: 'black', frames: 1 }])
  })

  it('offers nothing in which all are alike, or of which none says anything', () => {
    expect(choicesOf(facets, frames, {}, 'kind')).toEqual([])
    expect(choicesOf(facets, frames, {}, 'lens')).toEqual([])
  })
})
