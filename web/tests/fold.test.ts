import { describe, expect, it } from 'vitest'
import type { PassFrame, PassGroup, Verdict } from '../src/api/client'
import { folded, keyOf } from '../src/model/fold'
import { passFrame } from './pass-frames'

const frames = (...verdicts: Verdict[]): PassFrame[] => verdicts.map((verdict, n) => passFrame(n + 1, { verdict }))
const burst: PassGroup = { kind: 'burst', frames: [2, 3, 4], sharpest: 3 }
const lapse: PassGroup = { kind: 'time_lapse', frames: [6, 7], sharpest: null }
const groups = [burst, lapse]
const every = [0, 1, 2, 3, 4, 5, 6]
const none = new Set<number>()
const open = frames('open', 'open', 'open', 'open', 'open', 'open', 'open')

describe('a pass whose groups are folded', () => {
  it('has the sharpest of a group stand for it, else the first', () => {
    expect([...folded(open, groups, every, none)]).toEqual([
      [1, 2],
      [2, 2],
      [3, 2],
      [5, 5],
      [6, 5],
    ])
  })

  it('has one that is open stand for those of which some are judged', () => {
    const some = frames('open', 'kept', 'struck', 'open', 'open', 'struck', 'kept')
    expect(folded(some, groups, every, none).get(1)).toBe(3)
    expect(folded(some, groups, every, none).get(6)).toBe(5)
  })

  it('folds no group that was opened, and none of which one frame is gone through', () => {
    expect([...folded(open, groups, every, new Set([keyOf(burst)])).keys()]).toEqual([5, 6])
    expect([...folded(open, groups, [0, 1, 5, 6], none)]).toEqual([
      [5, 5],
      [6, 5],
    ])
    // of those that are gone through, the sharpest is not one
    expect(folded(open, groups, [0, 1, 3], none).get(3)).toBe(1)
  })
})
