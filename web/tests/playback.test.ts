import { describe, expect, it } from 'vitest'
import { curve, due, nextMark, runOf } from '../src/parts/playback'

describe('a run that is played', () => {
  it('shows a frame as long as its rate says, and stays at the last', () => {
    expect([0, 39, 40, 79, 80, 1000].map((millis) => due(3, millis, 25, 20))).toEqual([3, 3, 4, 4, 5, 19])
    expect(due(0, 1000, 24, 100)).toBe(24)
    expect(due(0, 1000, 30, 100)).toBe(30)
  })

  it('goes on where its interval changes, with marks there and where frames are missed', () => {
    const lapse = (first: number, count: number, missed: number[] = []) => ({
      code: 'time_lapse',
      title: 'Time-lapse',
      spans: [{ first, count }],
      missed,
    })
    const change = {
      code: 'interval_change',
      title: 'Interval changes to 4 s',
      spans: [{ first: 6, count: 1 }],
      missed: [],
    }
    const notes = [lapse(20, 3), change, lapse(6, 2), lapse(3, 3, [4])]
    const whole = {
      positions: [3, 4, 5, 6, 7],
      marks: [
        { at: 1, words: 'a frame is missed after this one' },
        { at: 3, words: 'interval changes to 4 s' },
      ],
    }
    expect(runOf(notes, 3)).toEqual({ ...whole, start: 0 })
    expect(runOf(notes, 6)).toEqual({ ...whole, start: 3 })
    expect(runOf(notes, 20)).toEqual({ positions: [20, 21, 22], marks: [], start: 0 })
    expect([0, 1, 3, 4].map((at) => nextMark(whole.marks, at)?.at)).toEqual([1, 3, 1, 1])
    expect(nextMark([], 0)).toBeUndefined()
  })

  it('spreads its brightness over the height, and makes nothing of nothing', () => {
    expect(curve([0.2, 0.6, 0.4], 100, 40)).toBe('M0.0 40.0L50.0 0.0L100.0 20.0')
    expect(curve([0.5, null, 0.5], 100, 40)).toBe('M0.0 20.0M100.0 20.0')
    expect(curve([0.5, 0.55], 100, 40)).toBe('M0.0 30.0L100.0 10.0')
    expect(curve([null], 100, 40)).toBe('')
  })
})
