import type { Edit, Edited, EntryChange, Sheet, SheetChange, ToldTape } from '../api/client'
import { foreseen, homeOf, type Shown } from './foreseen'

/**
 * What is asked of a sheet: an edit by hand, something said of the entry with a frame, or a rule of the whole sheet. An
 * entry's number is another as soon as somebody splits one before it; its frames stay in it.
 */
export type Change = Edit | { do: 'say'; frame: number; words: EntryChange } | { do: 'rule'; rule: SheetChange }

/** A change on its way: shown at once, and until an answer of the server holds it. */
export interface Operation {
  readonly id: number
  readonly change: Change
  /** What was shown before it. */
  readonly before: Shown | null
  /** For an undo: what it takes back, where that was done on this page. */
  readonly undoes: Operation | null
  /** What the server made of it; null until then. */
  readonly answer: Edited | null
}

/** The sheet as it will be: what the server told last, and all that it had not done by then. */
export function replay(told: Shown, operations: readonly Operation[]): Shown {
  const open = openOn(told.sheet.revision, operations)
  const shown = open.reduce(step, told)
  const history = open.findLast((operation) => operation.answer !== null)?.answer?.history
  return history ? { ...shown, sheet: { ...shown.sheet, history } } : shown
}

/** What becomes of frames that are left out or taken back, by their ids. */
export type States = ReadonlyMap<number, 'new' | 'left_out'>

/** Frames that are left out or taken back by these operations. */
export function statesOf(operations: readonly Operation[]): States {
  const states = new Map<number, 'new' | 'left_out'>()
  for (const operation of operations) {
    const { change } = operation.undoes ?? operation
    if (change.do !== 'leave_out' && change.do !== 'take_back') continue
    const out = (change.do === 'leave_out') === (operation.undoes === null)
    for (const id of change.frames) states.set(id, out ? 'left_out' : 'new')
  }
  return states
}

/** What the newest answers tell of a sheet, where both are of one moment and no older; else what was known before. */
export function told(before: Shown | null, sheet: Sheet | undefined, tape: ToldTape | undefined): Shown | null {
  const kept = before !== null && (!sheet || before.sheet.id === sheet.id) ? before : null
  if (!sheet || !tape) return kept
  if (kept?.sheet === sheet && kept.tape === tape.entries) return kept
  if (kept !== null && sheet.revision < kept.sheet.revision) return kept // of the time before
  return sheet.revision === tape.revision || sheet.state !== 'sheet' ? { sheet, tape: tape.entries } : kept
}

/** Those that a sheet does not hold that was told at this revision. */
export const openOn = (revision: number, operations: readonly Operation[]): Operation[] =>
  operations.filter(({ answer }) => answer === null || answer.revision > revision)

function step(shown: Shown, { change, undoes }: Operation): Shown {
  if (undoes !== null) return undoes.before ?? shown
  if (change.do === 'say') return { ...shown, sheet: said(shown.sheet, homeOf(shown, change.frame), change.words) }
  if (change.do === 'rule') return shown
  return foreseen(shown, change)
}

const TEXTS = ['name', 'kind', 'client', 'trip', 'description', 'rights'] as const

/** Where files go then is the server's to say. */
function said(sheet: Sheet, number: number | undefined, words: EntryChange): Sheet {
  const { add_keywords: come = [], remove_keywords: go = [], dng } = words
  const texts = Object.fromEntries(TEXTS.filter((field) => field in words).map((field) => [field, words[field]]))
  return {
    ...sheet,
    entries: sheet.entries.map((entry) =>
      entry.number === number
        ? {
            ...entry,
            ...texts,
            ...(dng !== undefined && { dng: dng === '' ? null : dng }),
            keywords: [...new Set([...(entry.keywords ?? []), ...come])].filter((path) => !go.includes(path)),
          }
        : entry,
    ),
  }
}
