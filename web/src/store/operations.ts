import { api, type Edited } from '../api/client'
import type { Shown } from '../model/foreseen'
import { sent, type Sent } from '../model/spans'
import { openOn, type Change, type Operation } from '../model/operations'
import { keptInTab, type Keeping, type Kept } from './kept'
import { tellsRevision } from './open-sheets'
import { uuid } from './uuid'

type Send = (change: Sent, key: string) => Promise<Edited>

/**
 * What is on its way to the server for one sheet, in order: an operation is sent when the one before it was answered,
 * and shown until the sheet was told anew with it. Until it is answered it is kept over a reload, and sent again then;
 * the server knows by its key what it has done already.
 */
export class Operations {
  readonly #send: Send
  readonly #settled: () => void
  readonly #keeping: Keeping
  #unanswered: readonly Kept[]
  readonly #listeners = new Set<() => void>()
  #tail: Promise<unknown> = Promise.resolve()
  #last = 0
  #onTheirWay = 0
  #pending: readonly Operation[] = []
  /** What this page did last and can take back by itself, in order. */
  #done: Operation[] = []
  #refusals: readonly Error[] = []
  #revision = -1

  /** @param settled called when nothing is on its way any more: the sheet is to be asked for anew */
  constructor(send: Send, settled: () => void, keeping: Keeping) {
    this.#send = send
    this.#settled = settled
    this.#keeping = keeping
    this.#unanswered = keeping.load()
    for (const kept of this.#unanswered) this.#queue(kept).catch(() => undefined) // the refusal stands on the page
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  readonly pending = (): readonly Operation[] => this.#pending
  readonly refusals = (): readonly Error[] => this.#refusals

  /** The newest state of the sheet that this page made itself. */
  get revision(): number {
    return this.#revision
  }

  /** Whether an operation waits for the server. */
  get busy(): boolean {
    return this.#onTheirWay > 0
  }

  /** @returns settled when the server has answered; rejected with its refusal, which {@link refusals} tell as well */
  ask(change: Change, before: Shown | null): Promise<Edited> {
    const undoes = change.do === 'undo' ? this.#toUndo(before) : null
    const operation: Operation = { id: ++this.#last, change, before, undoes, answer: null }
    if (change.do !== 'undo') this.#done = isForeseen(change) ? [...this.#done, operation] : []
    this.#change({ pending: [...this.#pending, operation] })
    const kept = { key: uuid(), sent: sent(change, before?.tape) }
    this.#keep([...this.#unanswered, kept])
    return this.#queue(
      kept,
      (answer) => {
        this.#answered(operation, answer)
      },
      () => {
        this.#refused(operation)
      },
    )
  }

  #queue(kept: Kept, onAnswer?: (answer: Edited) => void, onRefusal?: () => void): Promise<Edited> {
    this.#onTheirWay++
    const answered = this.#tail.then(() => this.#send(kept.sent, kept.key))
    const end = () => {
      this.#keep(this.#unanswered.filter(({ key }) => key !== kept.key))
      if (--this.#onTheirWay === 0) this.#settled()
    }
    this.#tail = answered.then(
      (answer) => {
        this.#revision = Math.max(this.#revision, answer.revision)
        onAnswer?.(answer)
        end()
      },
      (error: unknown) => {
        onRefusal?.()
        this.#change({ refusals: [...this.#refusals, error instanceof Error ? error : new Error(String(error))] })
        end()
      },
    )
    return answered
  }

  #keep(unanswered: readonly Kept[]): void {
    this.#unanswered = unanswered
    this.#keeping.save(unanswered)
  }

  /** Settled when nothing that was asked until now is on its way any more. @returns whether all of it was done */
  async idle(): Promise<boolean> {
    const before = this.#refusals.length
    await this.#tail
    return this.#refusals.length <= before
  }

  /**
   * The server told the sheet as it is at this revision: what it holds need not be shown in advance any more.
   *
   * @returns what that was
   */
  forget(revision: number): Operation[] {
    const open = openOn(revision, this.#pending)
    const told = this.#pending.filter((operation) => !open.includes(operation))
    if (told.length > 0) this.#change({ pending: open })
    return told
  }

  dismiss(refusal: Error): void {
    this.#change({ refusals: this.#refusals.filter((each) => each !== refusal) })
  }

  /** What the last thing done on this page was, if it is what the server would undo. */
  #toUndo(shown: Shown | null): Operation | null {
    const last = this.#done.pop()
    if (!last) return null
    return last.answer === null || last.answer.history.undo === shown?.sheet.history.undo ? last : null
  }

  #answered(operation: Operation, answer: Edited): void {
    const now = { ...operation, answer }
    this.#done = this.#done.map((each) => (each.id === operation.id ? now : each))
    this.#change({ pending: this.#pending.map((each) => (each.id === operation.id ? now : each)) })
  }

  #refused(operation: Operation): void {
    this.#done = []
    this.#change({ pending: this.#pending.filter(({ id }) => id !== operation.id) })
  }

  #change({
    pending = this.#pending,
    refusals = this.#refusals,
  }: {
    pending?: readonly Operation[]
    refusals?: readonly Error[]
  }): void {
    this.#pending = pending
    this.#refusals = refusals
    for (const listener of this.#listeners) listener()
  }
}

const isForeseen = ({ do: what }: Change) =>
  what === 'split' || what === 'join' || what === 'move' || what === 'leave_out' || what === 'take_back'

const ofSheets = new Map<number, Operations>()

/** The operations of a sheet: there is one list of them, whatever part of the page asks. */
export function operationsOf(sheet: number, settled: () => void): Operations {
  const known = ofSheets.get(sheet)
  if (known) return known
  const send: Send = (change, key) => {
    if (change.do === 'say') return api.changeEntry(sheet, change.frame, change.words, key)
    if (change.do === 'rule') return api.changeSheet(sheet, change.rule, key)
    return api.editSheet(sheet, change, key)
  }
  const operations = new Operations(send, settled, keptInTab(sheet))
  ofSheets.set(sheet, operations)
  tellsRevision(sheet, operations)
  return operations
}
