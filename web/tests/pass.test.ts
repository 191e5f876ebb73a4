import { describe, expect, it } from 'vitest'
import type { Judged, Judgement, Pass, PassFrame, Verdict } from '../src/api/client'
import { withJudged } from '../src/model/judged'
import { isMeant } from '../src/model/narrow'
import {
  countsOf,
  groupOf,
  oneOf,
  onward,
  starsOf,
  tabbing,
  takingOver,
  through,
  withJudgements,
} from '../src/model/pass'
import { NO_STEPS, passFrame } from './pass-frames'

const frame = (id: number, verdict: Verdict = 'open', stars: number | null = null): PassFrame =>
  passFrame(id, { verdict, stars })

const pass = (...verdicts: Verdict[]): Pass => ({
  frames: verdicts.map((verdict, n) => frame(n + 1, verdict)),
  facets: [],
  groups: [{ kind: 'burst', frames: [2, 3, 4], sharpest: 3 }],
  ...NO_STEPS,
  turn: 0,
})

const verdicts = ({ frames }: Pass) => frames.map((one) => one.verdict).join(' ')

const told = { verdict: 'open', stars: null, by: null, beside: [], tabs: [] } as const satisfies Partial<Judged>

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
      withJudged({ ...pass('open'), frames }, { turn: 1, frames: [{ ...told, id: 2, tabs: [7] }] }).frames[1]?.tabs,
    ).toEqual([7])
  })

  it('keeps what another one said beside the latest word, until they judge again', () => {
    const by = (name: string | null, verdict: Verdict) => ({ frames: [1], by: name, verdict })
    const after = (...judgements: Judgement[]) => withJudgements(pass('open'), judgements).frames[0]
    expect(after(by('Ines', 'kept'))).toMatchObject({ verdict: 'kept', by: 'Ines', beside: [] })
    const inesKept = { by: 'Ines', verdict: 'kept', stars: null }
    const both = [by('Ines', 'kept'), by('The editor', 'struck')]
    expect(after(...both)).toMatchObject({ verdict: 'struck', by: 'The editor', beside: [inesKept] })
    const editorStruck = { by: 'The editor', verdict: 'struck', stars: null }
    expect(after(...both, by('Ines', 'open'))).toMatchObject({ verdict: 'open', by: 'Ines', beside: [editorStruck] })
    expect(after(...both, by(null, 'kept'))).toMatchObject({ by: null, beside: [inesKept, editorStruck] })
    expect(after(by('Ines', 'kept'), { frames: [1], tabs: [3] })).toMatchObject({ by: 'Ines' })
  })

  it('takes over the words of another, those that are the same at one stroke', () => {
    const marked = (id: number, verdict: Verdict, stars: number | null, said: Verdict): PassFrame => ({
      ...frame(id, said, 2),
      beside: [{ by: 'Ines', verdict, stars }],
    })
    const frames = [
      marked(1, 'struck', null, 'kept'),
      marked(2, 'kept', 2, 'kept'), // says the same
      marked(3, 'struck', null, 'open'),
      marked(4, 'kept', 5, 'kept'),
      marked(5, 'kept', null, 'kept'),
    ]
    expect(takingOver(frames, 'Ines')).toEqual([
      { frames: [1, 3], verdict: 'struck', by: 'Ines' },
      { frames: [4], verdict: 'kept', stars: 5, by: 'Ines' },
    ])
    expect(takingOver(frames, 'Nobody')).toEqual([])
    const ids = frames.filter((one) => isMeant([], one, { mark: 'Ines' })).map(({ id }) => id)
    expect(ids).toEqual([1, 3, 4])
  })

  it('leaves the very frames of which nothing was told', () => {
    const before = pass('open', 'open')
    const { frames } = withJudged(before, { turn: 1, frames: [{ ...told, id: 2, verdict: 'kept' }] })
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
