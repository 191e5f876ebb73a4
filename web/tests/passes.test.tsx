// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Judgement, Pass, PassFrame } from '../src/api/client'
import { withJudgements } from '../src/model/pass'
import { joining, partAt } from '../src/model/passes'
import { usePass } from '../src/store/judging'
import { NO_STEPS, passFrame } from './pass-frames'

const { api } = vi.hoisted(() => ({
  api: { pass: vi.fn(), judge: vi.fn(), undoChange: vi.fn(), redoChange: vi.fn() },
}))
vi.mock('../src/api/client', async (original) => ({ ...(await original<object>()), api }))
afterEach(cleanup)

const frame = (id: number, seconds: number | null, more: Partial<PassFrame> = {}): PassFrame =>
  passFrame(id, { seconds, facets: [0], ...more })
const pass = (frames: PassFrame[], more: Partial<Pass> = {}): Pass => ({
  frames,
  facets: [{ by: 'camera', value: 'Heron 5' }],
  groups: [],
  ...NO_STEPS,
  turn: 0,
  ...more,
})

describe('a pass through several shoots', () => {
  const kiln = pass([frame(11, 9000), frame(12, 9100, { intakes: [1, 2] })], {
    facets: [{ by: 'camera', value: 'Wren' }],
    undo: 'verdict of a frame',
    undo_step: 7,
  })
  const regatta = pass([frame(1, 100), frame(2, 200, { intakes: [2] }), frame(3, 300)], {
    groups: [{ kind: 'burst', frames: [1, 2, 3], sharpest: 2 }],
    undo: 'stars of a frame',
    undo_step: 9,
    redo: 'a tab',
    redo_step: 10,
  })
  const both = [
    { shoot: 5, pass: kiln },
    { shoot: 4, pass: regatta },
  ]

  it('has the earlier shoot first, and knows where each frame stands in its own', () => {
    const whole = joining(null)(both)
    expect(whole.frames.map(({ id }) => id)).toEqual([1, 2, 3, 11, 12])
    expect([0, 2, 3, 4].map((position) => partAt(whole, position)?.shoot)).toEqual([4, 4, 5, 5])
    const cameras = whole.frames.map(({ facets }) => facets.map((number) => whole.facets[number]?.value))
    expect(cameras).toEqual([['Heron 5'], ['Heron 5'], ['Heron 5'], ['Wren'], ['Wren']])
  })

  it('goes through what one intake filed, and no further', () => {
    const whole = joining(1)(both)
    expect(whole.frames.map(({ id }) => id)).toEqual([1, 3, 11, 12])
    expect(whole.parts).toEqual([
      { shoot: 4, from: 0, places: [0, 2] },
      { shoot: 5, from: 2, places: [0, 1] },
    ])
    // the sharpest of them all is not among those that are left
    expect(whole.groups).toEqual([{ kind: 'burst', frames: [1, 3], sharpest: null }])
    expect(joining(2)(both).groups).toEqual([])
    expect(joining(3)(both).parts).toEqual([])
  })

  it('keeps every frame that stays as it is when another is judged', () => {
    const join = joining(null)
    const before = join(both)
    expect(join([...both])).toBe(before)
    const judged = withJudgements(kiln, [{ frames: [12], verdict: 'kept' }])
    const after = join([{ shoot: 5, pass: judged }, ...both.slice(1)])
    expect(after.frames.map((one, position) => one === before.frames[position])).toEqual([
      true,
      true,
      true,
      true,
      false,
    ])
  })

  it('undoes the latest change of them all, and makes again the first that was undone', () => {
    expect(joining(null)(both)).toMatchObject({ undo: 'stars of a frame', undoIn: 4, redo: 'a tab', redoIn: 4 })
    const undone = { ...kiln, redo: 'verdict of a frame', redo_step: 7 }
    expect(joining(null)([{ shoot: 5, pass: undone }, ...both.slice(1)])).toMatchObject({ redoIn: 5 })
    expect(joining(null)([])).toMatchObject({ undo: null, undoIn: null, redoIn: null })
  })
})

it('sends each verdict to the shoot of its frame, and waits for it before the latest one is undone', async () => {
  let step = 0
  const asked: string[] = []
  const answers: (() => void)[] = []
  const slowly = <T,>(what: string, answer: () => T): Promise<T> => {
    asked.push(what)
    return new Promise((resolve) => {
      answers.push(() => {
        resolve(answer())
      })
    })
  }
  const history = { redo: null, redo_step: null, turns: [1] }
  api.pass.mockImplementation((shoot: number) => Promise.resolve(pass([frame(shoot * 10, shoot)])))
  api.judge.mockImplementation((shoot: number, [first]: Judgement[]) =>
    slowly(`${first?.verdict} in ${shoot}`, () => ({ ...history, undo: 'verdict', undo_step: ++step })),
  )
  api.undoChange.mockImplementation((shoot: number) =>
    slowly(`undo in ${shoot}`, () => ({ ...history, undo: null, undo_step: null })),
  )
  const queries = new QueryClient()
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  )
  const { result } = renderHook(() => usePass([701, 702]), { wrapper })
  await vi.waitFor(() => {
    expect(result.current.pass?.frames).toHaveLength(2)
  })
  const settled = () => act(() => new Promise((resolve) => setTimeout(resolve)))
  act(() => {
    result.current.judge({ frames: [7020], verdict: 'kept' })
    result.current.judge({ frames: [7010], verdict: 'struck' })
    result.current.undo()
  })
  await settled()
  expect(asked).toEqual(['kept in 702']) // the other one is shown at once, and sent when this is answered
  expect(result.current.pass?.frames.map(({ verdict }) => verdict)).toEqual(['struck', 'kept'])
  answers.shift()?.()
  await settled()
  expect(asked).toEqual(['kept in 702', 'struck in 701']) // which one is the latest is not known yet
  answers.shift()?.()
  await settled()
  expect(asked.at(-1)).toBe('undo in 701')
})
