import { describe, expect, test } from 'vitest'
import { selected } from '../src/model/selected'

describe('frames of a shoot', () => {
  const all = Array.from({ length: 20_000 }, (_, n) => n + 1)

  test('that are all selected are told in a word', () => {
    expect(selected(all, all)).toEqual({ except: [], of: 20_000 })
  })

  test('of which a few are not are told by those', () => {
    expect(selected(all.slice(2), all)).toEqual({ except: [1, 2], of: 20_000 })
  })

  test('that are few are told by their ids', () => {
    expect(selected([3, 7], all)).toEqual({ frames: [3, 7] })
  })

  test('of which one is not among all any more are told by their ids', () => {
    expect(selected([1, 2, 9], [1, 2, 3])).toEqual({ frames: [1, 2, 9] })
  })

  test('none are none', () => {
    expect(selected([], [1])).toEqual({ frames: [] })
  })
})
