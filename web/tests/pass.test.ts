import { describe, expect, it } from 'vitest'
import type { Judgement, Pass, PassFrame, Verdict } from '../src/api/client'
import { withJudged } from '../src/model/judged'
import { countsOf, groupOf, oneOf, onward, starsOf, tabbing, through, withJudgements } from '../src/model/pass'

const frame = (id: number, verdict: Verdict = 'open', stars: number | null = null): PassFrame => ({
  id,
  picture: null,
  verdict,
  stars,
  tabs: [],
  file_stars: null,
  seconds: null,
  facets: [],
})

const pass = (...verdicts: Verdict[]): Pass => ({
  frames: verdicts.map((verdict, n) => frame(n + 1, verdict)),
  facets: [],
  groups: [{ kind: 'burst', frames: [2, 3, 4], sharpest: 3 }],
  undo: null,
  redo: null,
  turn: 0,
})

const verdicts = ({ frames }: Pass) => frames.map((one) => one.verdict).join(' ')

describe('what was judged here', () => {
  it('is laid over what the server told, in order, the later word on top', () => {
    const judgements: Judgement[] = [
      { frames: [1, 2], verdict: 'kept' },
      { frames: [2], verdict: 'struck' },
      { frames: [2], stars: 4 },
      { frames: [99], verdict: 'kept' },
    ]
    const now = withJudgements(pass('open', 'open', 'kept'), judgements)
    expect(verdicts(now)).toBe('kept struck kept')
    expect(now.frames[1]?.stars).toBe(4)
  })

  it('puts tabs on frames in their order, takes them off, and leaves them at a verdict', () => {
    const judgements: Judgement[] = [
      { frames: [1, 2], tabs: [7] },
      { frames: [1], tabs: [3], verdict: 'kept' },
      { frames: [2], untab: [7, 9] },
      { frames: [1], stars: 2 },
    ]
    const { frames } = withJudgements(pass('open', 'open'), judgements)
    expect(frames.map(({ tabs }) => tabs)).toEqual([[3, 7], []])
    expect(tabbing(frames, 7)).toEqual({ frames: [1, 2], tabs: [7] })
    expect(tabbing(frames.slice(0, 1), 7)).toEqual({ frames: [1], untab: [7] })
    expect(
      withJudged({ ...pass('open'), frames }, { turn: 1, frames: [{ id: 2, verdict: 'open', stars: null, tabs: [7] }] })
        .frames[1]?.tabs,
    ).toEqual([7])
  })

  it('leaves the very frames of which nothing was told', () => {
    const before = pass('open', 'open')
    const { frames } = withJudged(before, { turn: 1, frames: [{ id: 2, verdict: 'kept', stars: null, tabs: [] }] })
    expect(frames[0]).toBe(before.frames[0])
    expect(withJudged(before, { turn: 0, frames: [] })).toBe(before)
  })

  it('leaves the very pass where nothing was judged, so that nothing is drawn again', () => {
    const told = pass('open')
    expect(withJudgements(told, [])).toBe(told)
  })

  it('of a burst keeps one and strikes the others', () => {
    const told = pass('open', 'open', 'open', 'kept', 'open')
    const group = groupOf(told.groups, 3)
    expect(group && verdicts(withJudgements(told, [oneOf(group, 3)]))).toBe('open struck kept struck open')
    expect(groupOf(told.groups, 5)).toBeNull()
  })
})

describe('a pass', () => {
  it('counts, and lets through what a filter asks for', () => {
    const { frames } = pass('kept', 'struck', 'open', 'kept')
    const starred = [...frames, { ...frame(5), file_stars: 3 }, frame(6, 'open', 0)]
    expect(countsOf(starred)).toEqual({ kept: 2, struck: 1, open: 3, starred: 1 })
    expect(through(starred, 'kept')).toEqual([0, 3])
    expect(through(starred, 'starred')).toEqual([4])
    expect(through(starred, 'every')).toHaveLength(6)
    expect(starred.map(starsOf)).toEqual([0, 0, 0, 0, 3, 0])
  })

  it('goes on to the next open frame, back to the first where none follows, and in order where none is open', () => {
    const { frames } = pass('open', 'kept', 'kept', 'open', 'struck')
    const all = [0, 1, 2, 3, 4]
    expect(onward(frames, all, 1)).toBe(3)
    expect(onward(frames, all, 3)).toBe(0)
    const { frames: judged } = pass('kept', 'kept', 'struck')
    expect(onward(judged, [0, 1], 0)).toBe(1)
    expect(onward(judged, [0, 1], 1)).toBe(1)
  })
})
