import { api, type Edited } from '../api/client'
import type { Shown } from '../model/foreseen'
import { sent } from '../model/spans'
import { openOn, type Change, type Operation } from '../model/operations'
import { tellsRevision } from './open-sheets'

type Send = (change: Change, before: Shown | null) => Promise<Edited>

/**
 * What is on its way to the server for one sheet, in order: an operation is sent when the one before it was answered,
 * and kept until the sheet was told anew with it.
 */
export class Operations {
  readonly #send: Send
  readonly #settled: () => void
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
  constructor(send: Send, settled: () => void) {
    this.#send = send
    this.#settled = settled
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
    this.#onTheirWay++
    this.#change({ pending: [...this.#pending, operation] })
    const answered = this.#tail.then(() => this.#send(change, before))
    this.#tail = answered.then(
      (answer) => {
        this.#answered(operation, answer)
      },
      (error: unknown) => {
        this.#refused(operation, error instanceof Error ? error : new Error(String(error)))
      },
    )
    return answered
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
    this.#revision = Math.max(this.#revision, answer.revision)
    this.#done = this.#done.map((each) => (each.id === operation.id ? now : each))
    this.#change({ pending: this.#pending.map((each) => (each.id === operation.id ? now : each)) })
    this.#ended()
  }

  #refused(operation: Operation, error: Error): void {
    this.#done = []
    this.#change({
      pending: this.#pending.filter(({ id }) => id !== operation.id),
      refusals: [...this.#refusals, error],
    })
    this.#ended()
  }

  #ended(): void {
    if (--this.#onTheirWay === 0) this.#settled()
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
  const operations = new Operations((change, before) => {
    if (change.do === 'say') return api.changeEntry(sheet, change.frame, change.words)
    if (change.do === 'rule') return api.changeSheet(sheet, change.rule)
    return api.editSheet(sheet, sent(change, before?.tape))
  }, settled)
  ofSheets.set(sheet, operations)
  tellsRevision(sheet, operations)
  return operations
}
