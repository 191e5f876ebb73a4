// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, describe, expect, test, vi } from 'vitest'
import type { Happenings } from '../src/store/stream'
import type { Judgement, Pass } from '../src/api/client'
import { passKey, withJudged } from '../src/model/judged'
import { withJudgements } from '../src/model/pass'
import { usePass } from '../src/store/judging'
import { NO_STEPS, passFrame } from './pass-frames'

const { api } = vi.hoisted(() => ({
  api: { pass: vi.fn(), judge: vi.fn() },
}))
vi.mock('../src/api/client', async (original) => ({ ...(await original<object>()), api }))
afterEach(cleanup)

type Frames = Pass['frames']

/**
 * A server, and a line to it on which everything takes as long as it likes: what is asked is done some time after, its
 * answer and what is told of it arrive later still, in any order between them.
 */
class FarServer {
  frames: Frames = [1, 2, 3].map((id) => passFrame(id))
  #turn = 0
  readonly asked: (() => void)[] = []
  readonly answers: (() => void)[] = []
  readonly told: Happenings['judged'][] = []

  constructor() {
    api.pass.mockImplementation(() => this.#ask(() => ({ ...this.#pass(), turn: this.#turn })))
    api.judge.mockImplementation((_: number, judgements: Judgement[]) =>
      this.#ask(() => this.#history(judgements.map((judgement) => this.judge(judgement)))),
    )
  }

  judge(judgement: Judgement): number {
    return this.#become(withJudgements(this.#pass(), [judgement]).frames)
  }

  #become(frames: Frames): number {
    const others = frames.filter((frame, n) => frame !== this.frames[n])
    this.frames = frames
    this.#turn++
    if (others.length > 0) {
      this.told.push({
        shoot: 1,
        turn: this.#turn,
        frames: others.map(({ id, verdict, stars, by, beside, tabs }) => ({ id, verdict, stars, by, beside, tabs })),
      })
    }
    return this.#turn
  }

  #pass(): Pass {
    return { frames: this.frames, facets: [], groups: [], ...NO_STEPS, turn: this.#turn }
  }

  #history(turns: number[]) {
    return { ...NO_STEPS, turns }
  }

  #ask<T>(act: () => T): Promise<T> {
    return new Promise((resolve) => {
      this.asked.push(() => {
        const answer = act()
        this.answers.push(() => {
          resolve(answer)
        })
      })
    })
  }
}

/** What comes to this window: the answer to its own verdict, news of it and of the other's, a pass read anew. */
type Comes = 'answer' | 'own' | 'other' | 'read'

/** Every order in which they can come: what is told comes in the order in which it was done. */
function orders(left: readonly Comes[] = ['answer', 'own', 'other', 'read']): Comes[][] {
  if (left.length === 0) return [[]]
  return left
    .filter((one) => one !== 'other' || !left.includes('own'))
    .flatMap((one) => orders(left.filter((each) => each !== one)).map((rest) => [one, ...rest]))
}

describe('a pass that two windows judge over a slow line', () => {
  const cases = [0, 1, 2].flatMap((before) => orders().map((order) => ({ before, order })))
  test.each(cases)('ends as the server has it: $order, read before change $before', async ({ before, order }) => {
    const shoot = 1 + cases.findIndex((one) => one.before === before && one.order === order)
    const server = new FarServer()
    const queries = new QueryClient()
    const wrapper = ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={queries}>{children}</QueryClientProvider>
    )
    const { result } = renderHook(() => usePass([shoot]), { wrapper })
    const once = (what: () => void) =>
      act(async () => {
        what()
        await new Promise((resolve) => setTimeout(resolve)) // what follows from it, to the end
      })
    const verdicts = () => result.current.pass?.frames.map(({ verdict }) => verdict)
    await once(() => server.asked.shift()?.())
    await once(() => server.answers.shift()?.())
    await once(() => {
      result.current.judge({ frames: [1], verdict: 'kept' })
    })
    expect(verdicts()).toEqual(['kept', 'open', 'open'])

    const comes: Partial<Record<Comes, (() => void) | undefined>> = {
      own: () => {
        hear(server.told[0])
      },
      other: () => {
        hear(server.told[1])
      },
    }
    const hear = (told?: Happenings['judged']) => {
      queries.setQueryData<Pass>(passKey(shoot), (pass) => (told && pass ? withJudged(pass, told) : pass))
    }
    const [own] = server.asked.splice(0)
    const changes = [
      () => {
        own?.()
        comes.answer = server.answers.shift()
      },
      () => {
        server.judge({ frames: [1], verdict: 'struck' })
      },
    ]
    const read = async () => {
      await once(() => void queries.invalidateQueries({ queryKey: passKey(shoot) }))
      server.asked.shift()?.()
      comes.read = server.answers.shift()
    }
    for (const [n, change] of changes.entries()) {
      if (n === before) await read()
      change()
    }
    if (before === 2) await read()
    for (const one of order) await once(() => comes[one]?.())
    // what was read too early is asked for again
    for (let again = server.asked.shift(); again; again = server.asked.shift()) {
      again()
      await once(() => server.answers.shift()?.())
    }
    expect(server.frames.map(({ verdict }) => verdict)).toEqual(['struck', 'open', 'open'])
    expect(verdicts()).toEqual(['struck', 'open', 'open'])
  })
})
