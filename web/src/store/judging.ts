import { useQueries, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useMemo, useSyncExternalStore } from 'react'
import { api, Refused, type Judgement, type Pass } from '../api/client'
import { passKey } from '../model/judged'
import { withJudgements } from '../model/pass'
import { joining } from '../model/passes'
import { whoJudges } from '../parts/who'
import { uuid } from './uuid'

/** Milliseconds. */
const AGAIN_AFTER = 1_000

/** Judgements that go in one request; so many are less than what a page may send while it is left. */
const TOGETHER = 100

type Answer = Pick<Pass, 'undo' | 'undo_step' | 'redo' | 'redo_step'> & { turns: number[] }

/** A judgement with what it is known by, should it be sent a second time. */
type Sent = Judgement & { operation: string }

/** What is asked of the server, in order; numbered over all shoots. */
interface Turn {
  what: Sent | 'undo' | 'redo'
  number: number
}

const judgementOf = ({ what }: Turn): Sent[] => (typeof what === 'string' ? [] : [what])

let latest = 0

/**
 * What is judged in a shoot: shown at once, sent in order, and laid over every answer until the server has acknowledged
 * it, so that no answer from before undoes it. What is judged while a request is on its way goes with the next one,
 * together: a slow server is never more than one answer behind. What is not acknowledged when the page is left is sent
 * at that moment, and once more when the shoot is looked at again.
 */
class Judging {
  #turns: readonly Turn[] = []
  #pending: readonly Sent[] = []
  #error: Error | null = null
  #isAsking = false
  #over: { pass: Pass; pending: readonly Sent[]; whole: Pass } | null = null
  readonly #hearers = new Set<() => void>()
  readonly #kept: KeptJudgements

  constructor(
    private readonly shoot: number,
    private readonly queries: QueryClient,
  ) {
    this.#kept = new KeptJudgements(shoot)
    this.#pending = this.#kept.all()
    this.#turns = this.#pending.map((what) => ({ what, number: ++latest }))
    window.addEventListener('pagehide', () => {
      if (this.#pending.length > 0) void api.judge(this.shoot, this.#pending.slice(0, TOGETHER)).catch(() => undefined)
    })
    void this.#ask()
  }

  readonly error = (): Error | null => this.#error

  /** The number of the first that is not answered yet. */
  readonly first = (): number => this.#turns[0]?.number ?? Infinity

  /** A pass with what is not acknowledged laid over it; the same one again while neither is another. */
  readonly over = (pass: Pass): Pass => {
    if (this.#over?.pass !== pass || this.#over.pending !== this.#pending)
      this.#over = { pass, pending: this.#pending, whole: withJudgements(pass, this.#pending) }
    return this.#over.whole
  }

  /** Fulfilled when all that was judged is answered. */
  readonly idle = (): Promise<void> =>
    new Promise((resolve) => {
      const look = () => {
        if (this.#turns.length > 0) return
        stop()
        resolve()
      }
      const stop = this.hear(look)
      look()
    })

  readonly hear = (hearer: () => void): (() => void) => {
    this.#hearers.add(hearer)
    return () => this.#hearers.delete(hearer)
  }

  readonly judge = (judgement: Judgement): void => {
    const sent = { by: whoJudges(), ...judgement, operation: uuid() }
    this.#add(sent)
    this.#kept.keep(sent)
  }

  readonly undo = (): void => {
    this.#add('undo')
  }

  readonly redo = (): void => {
    this.#add('redo')
  }

  #add(what: Turn['what']): void {
    this.#set([...this.#turns, { what, number: ++latest }])
    void this.#ask()
  }

  async #ask(): Promise<void> {
    if (this.#isAsking) return
    this.#isAsking = true
    for (let first = this.#turns[0]; first !== undefined; first = this.#turns[0]) {
      await this.#isNext(first.number)
      const { what } = first
      const together = next(this.#turns, this.#firstOfOthers())
      try {
        const { turns, ...history } = await this.#answered(() => {
          if (what === 'undo') return api.undoChange(this.shoot)
          if (what === 'redo') return api.redoChange(this.shoot)
          return api.judge(this.shoot, together)
        })
        this.#error = null
        this.#change((pass) => {
          // the feed may have told of it already, and of what others did after it
          const untold = together.filter((_, n) => (turns[n] ?? 0) > pass.turn)
          return { ...withJudgements(pass, untold), ...history }
        })
      } catch (error) {
        this.#error = error as Error
        void this.queries.invalidateQueries({ queryKey: passKey(this.shoot) })
      }
      for (const { operation } of together) this.#kept.drop(operation)
      this.#set(this.#turns.slice(Math.max(1, together.length)))
    }
    this.#isAsking = false
  }

  /** The number of the first that is not answered yet in another shoot. */
  #firstOfOthers(): number {
    return Math.min(...[...known.values()].map((other) => (other === this ? Infinity : other.first())))
  }

  /** What was asked for in other shoots before this comes first: what is done last is undone first, in all of them. */
  async #isNext(number: number): Promise<void> {
    while (this.#firstOfOthers() < number) await new Promise<void>((resolve) => waiting.push(resolve))
  }

  /** A server that does not answer is asked again: what was judged waits, and is not lost. */
  async #answered(ask: () => Promise<Answer>): Promise<Answer> {
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

  #set(turns: readonly Turn[]): void {
    this.#turns = turns
    this.#pending = turns.flatMap(judgementOf)
    this.#tell()
    for (const goOn of waiting.splice(0)) goOn()
  }

  #tell(): void {
    changes++
    for (const hearer of this.#hearers) hearer()
  }
}

/** The judgements that are asked next, before what is asked in another shoot. */
function next(turns: readonly Turn[], before: number): Sent[] {
  const end = turns.findIndex(({ what, number }) => typeof what === 'string' || number > before)
  return turns.slice(0, Math.min(end < 0 ? turns.length : end, TOGETHER)).flatMap(judgementOf)
}

/** What is not acknowledged yet, over a reload; each by itself, so that no page writes over another's. */
class KeptJudgements {
  readonly #prefix: string
  #latest = 0

  constructor(shoot: number) {
    this.#prefix = `velvet-judged-${shoot}-`
  }

  /** In the order in which they were given. */
  all(): Sent[] {
    return Object.keys(localStorage)
      .filter((key) => key.startsWith(this.#prefix))
      .map((key) => JSON.parse(localStorage.getItem(key) ?? '') as { at: number; judgement: Sent })
      .sort((one, other) => one.at - other.at)
      .map(({ judgement }) => judgement)
  }

  keep(judgement: Sent): void {
    this.#latest = Math.max(Date.now(), this.#latest + 1)
    localStorage.setItem(this.#prefix + judgement.operation, JSON.stringify({ at: this.#latest, judgement }))
  }

  drop(operation: string): void {
    localStorage.removeItem(this.#prefix + operation)
  }
}

const known = new Map<number, Judging>()

/** Those who wait for their turn. */
const waiting: (() => void)[] = []

/** How often anything was judged or answered: what hears of several shoots sees by it that one of them changed. */
let changes = 0

function judgingOf(shoot: number, queries: QueryClient): Judging {
  const judging = known.get(shoot) ?? new Judging(shoot, queries)
  known.set(shoot, judging)
  return judging
}

/**
 * What is asked for in several shoots waits until all is answered that was judged before: only then it is known whose
 * change is the latest.
 */
let before = Promise.resolve()

/**
 * The pass through frames of shoots as they stand with what was judged on this page, and the ways to judge.
 *
 * @param intake whose frames are meant alone; null: all of them
 */
export function usePass(shoots: readonly number[], intake: number | null = null) {
  const queries = useQueryClient()
  const which = shoots.join()
  const { judgings, hear, join } = useMemo(() => {
    const judgings = (which === '' ? [] : which.split(',').map(Number)).map((shoot) => ({
      shoot,
      judging: judgingOf(shoot, queries),
    }))
    const hear = (hearer: () => void) => {
      const stops = judgings.map(({ judging }) => judging.hear(hearer))
      return () => {
        for (const stop of stops) stop()
      }
    }
    return { judgings, hear, join: joining(intake) }
  }, [which, intake, queries])
  const told = useQueries({
    queries: judgings.map(({ shoot }) => ({
      queryKey: passKey(shoot),
      structuralSharing: false, // what changes it keeps the frames that stay as they are; 20,000 need not be compared
      queryFn: async () => {
        for (;;) {
          const pass = await api.pass(shoot)
          // what was read before something that is known by now was done is asked for again
          if (pass.turn >= (queries.getQueryData<Pass>(passKey(shoot))?.turn ?? 0)) return pass
        }
      },
    })),
  })
  useSyncExternalStore(hear, () => changes)
  const passes = judgings.flatMap(({ shoot, judging }, n) => {
    const pass = told[n]?.data
    return pass ? [{ shoot, pass: judging.over(pass) }] : []
  })
  const pass = passes.length === judgings.length ? join(passes) : undefined
  const only = judgings.length === 1 ? judgings[0]?.judging : undefined
  const takeTurn = (what: 'undo' | 'redo') => {
    if (only) {
      only[what]()
      return
    }
    before = before.then(async () => {
      await Promise.all(judgings.map(({ judging }) => judging.idle()))
      const now = join(
        judgings.flatMap(({ shoot }) => {
          const pass = queries.getQueryData<Pass>(passKey(shoot))
          return pass ? [{ shoot, pass }] : []
        }),
      )
      const shoot = what === 'undo' ? now.undoIn : now.redoIn
      const judging = judgings.find((one) => one.shoot === shoot)?.judging
      judging?.[what]()
      await judging?.idle()
    })
  }
  return {
    pass,
    error: told.find(({ error }) => error !== null)?.error ?? null,
    refused: judgings.map(({ judging }) => judging.error()).find((error) => error !== null) ?? null,
    judge: (judgement: Judgement) => {
      if (only) only.judge(judgement)
      else
        for (const { shoot, judging } of judgings) {
          const own = new Set(passes.find((one) => one.shoot === shoot)?.pass.frames.map(({ id }) => id))
          const [frames, struck] = [judgement.frames, judgement.struck ?? []].map((of) =>
            of.filter((id) => own.has(id)),
          )
          if (frames?.length || struck?.length)
            judging.judge({ ...judgement, frames: frames ?? [], struck: struck ?? [] })
        }
    },
    undo: () => {
      takeTurn('undo')
    },
    redo: () => {
      takeTurn('redo')
    },
  }
}
