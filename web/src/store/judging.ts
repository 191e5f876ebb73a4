import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useMemo, useSyncExternalStore } from 'react'
import { api, Refused, type Judgement, type Pass } from '../api/client'
import { passKey } from '../model/judged'
import { withJudgements } from '../model/pass'

/** Milliseconds. */
const AGAIN_AFTER = 1_000

type History = Pick<Pass, 'undo' | 'redo'>

/** A judgement with what it is known by, should it be sent a second time. */
type Sent = Judgement & { operation: string }

/**
 * What is judged in a shoot: shown at once, sent in order, and laid over every answer until the server has acknowledged
 * it, so that no answer from before undoes it. What is not acknowledged when the page is left is sent at that moment,
 * and once more when the shoot is looked at again.
 */
class Judging {
  #pending: readonly Sent[] = []
  #error: Error | null = null
  #turn: Promise<unknown> = Promise.resolve()
  readonly #hearers = new Set<() => void>()
  readonly #keptAs: string

  constructor(
    private readonly shoot: number,
    private readonly queries: QueryClient,
  ) {
    this.#keptAs = `velvet-judged-${shoot}`
    const kept = JSON.parse(localStorage.getItem(this.#keptAs) ?? '[]') as Sent[]
    for (const judgement of kept) this.#send(judgement)
    window.addEventListener('pagehide', () => {
      for (const judgement of this.#pending) void api.judge(this.shoot, judgement).catch(() => undefined)
    })
  }

  readonly pending = (): readonly Sent[] => this.#pending
  readonly error = (): Error | null => this.#error

  readonly hear = (hearer: () => void): (() => void) => {
    this.#hearers.add(hearer)
    return () => this.#hearers.delete(hearer)
  }

  readonly judge = (judgement: Judgement): void => {
    this.#send({ ...judgement, operation: uuid() })
  }

  readonly undo = (): void => {
    this.#inTurn(() => api.undoChange(this.shoot))
  }

  readonly redo = (): void => {
    this.#inTurn(() => api.redoChange(this.shoot))
  }

  #send(judgement: Sent): void {
    this.#set([...this.#pending, judgement])
    this.#inTurn(
      () => api.judge(this.shoot, judgement),
      () => {
        this.#change((pass) => withJudgements(pass, [judgement]))
      },
      () => {
        this.#set(this.#pending.filter((other) => other !== judgement))
      },
    )
  }

  #inTurn(ask: () => Promise<History>, acknowledged?: () => void, settled?: () => void): void {
    this.#turn = this.#turn.then(async () => {
      try {
        const { undo, redo } = await this.#answered(ask)
        this.#error = null
        acknowledged?.()
        this.#change((pass) => ({ ...pass, undo, redo }))
      } catch (error) {
        this.#error = error as Error
        void this.queries.invalidateQueries({ queryKey: passKey(this.shoot) })
      }
      settled?.()
      this.#tell()
    })
  }

  /** A server that does not answer is asked again: what was judged waits, and is not lost. */
  async #answered(ask: () => Promise<History>): Promise<History> {
    for (;;) {
      try {
        return await ask()
      } catch (error) {
        if (!(error instanceof Refused) || error.status !== 0) throw error
        this.#error = error
        this.#tell()
        await new Promise((resolve) => setTimeout(resolve, AGAIN_AFTER))
      }
    }
  }

  #change(change: (pass: Pass) => Pass): void {
    this.queries.setQueryData<Pass>(passKey(this.shoot), (pass) => pass && change(pass))
  }

  #set(pending: readonly Sent[]): void {
    this.#pending = pending
    if (pending.length === 0) localStorage.removeItem(this.#keptAs)
    else localStorage.setItem(this.#keptAs, JSON.stringify(pending))
    this.#tell()
  }

  #tell(): void {
    for (const hearer of this.#hearers) hearer()
  }
}

/** A random UUID (RFC 9562, version 4), also where a page without TLS has no `randomUUID`. */
function uuid(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-')
}

const known = new Map<number, Judging>()

function judgingOf(shoot: number, queries: QueryClient): Judging {
  const judging = known.get(shoot) ?? new Judging(shoot, queries)
  known.set(shoot, judging)
  return judging
}

/** A shoot's pass as it stands with what was judged on this page, and the ways to judge. */
export function usePass(shoot: number) {
  const queries = useQueryClient()
  const judging = judgingOf(shoot, queries)
  const told = useQuery({ queryKey: passKey(shoot), queryFn: () => api.pass(shoot) })
  const pending = useSyncExternalStore(judging.hear, judging.pending)
  const error = useSyncExternalStore(judging.hear, judging.error)
  const pass = useMemo(() => told.data && withJudgements(told.data, pending), [told.data, pending])
  return { pass, error: told.error, refused: error, judge: judging.judge, undo: judging.undo, redo: judging.redo }
}
