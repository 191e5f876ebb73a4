import { memo, useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Edit, Entry, Sheet, Tape as Ticks } from '../../api/client'
import { useFocusKept } from '../../keys/useFocusKept'
import { homeOf } from '../../model/foreseen'
import { Heading } from '../../parts/Heading'
import { Nothing, Refusals, Trouble, Waiting } from '../../parts/Trouble'
import { isOver } from '../../parts/stage'
import { usePaintedFirst } from '../../parts/usePaintedFirst'
import { bytes, days, instant, list, plural } from '../../parts/words'
import { Remarks } from './Remarks'
import { EntryRow } from './EntryRow'
import { OtherFiles } from './OtherFiles'
import { useSheet, useUndoKeys } from './edits'
import { Rules } from './Rules'
import { SelectionBar } from './SelectionBar'
import { useSelection } from '../../parts/selection'
import { ReceiptLinks } from './ReceiptPlace'
import { SumLine } from './SumLine'
import { Tape } from './Tape'
import { Witnesses } from './Witnesses'
import { Tip } from '../../parts/Tip'
import { texts } from './texts'

/** The sheet, which turns into its own progress and then into the receipt. */
export function SheetPlace() {
  const id = Number(useParams().id)
  return <OpenSheet key={id} id={id} />
}

function OpenSheet({ id }: { id: number }) {
  const { sheet, whole, tape, states, edit, change, say, error, refusals, dismiss } = useSheet(id)
  const onTape = usePaintedFirst(tape) // of thousands it takes longer to draw than the entries do
  const selection = useSelection(tape)
  const planned = sheet?.state === 'sheet'
  useUndoKeys(edit, planned)
  const hand = useHand(sheet, tape)
  const keepsFocus = useFocusKept('[data-hand] .frames')
  if (!sheet || !whole) return <Waiting error={error} />
  const selected =
    selection.ids.size > 0 ? <SelectionBar sheet={sheet} tape={tape} selection={selection} edit={edit} /> : null
  return (
    <div ref={keepsFocus} className="flex min-h-[calc(100vh-3rem)] flex-col">
      <div className="page">
        <Head sheet={sheet} edit={edit} />
        {planned && <Rules sheet={whole} change={change} edit={edit} />}
        {planned && sheet.cards.length > 1 && <Witnesses sheet={sheet.id} />}
        <Refusals all={refusals} onDismiss={dismiss} />
        {sheet.cards
          .flatMap((card) => card.problems)
          .map((problem) => (
            <div key={problem} className="mb-2">
              <Trouble>{problem}</Trouble>
            </div>
          ))}
        {sheet.progress?.failures.map((failure) => (
          <div key={failure.path} className="mb-2">
            <Trouble>{failure.why}</Trouble>
          </div>
        ))}
        <Remarks all={sheet.progress?.remarks ?? NONE} />
        {onTape.length > 0 && <Tape tape={onTape} onEntry={hand.goTo} onEdit={planned ? edit : undefined} />}
        {sheet.entries.length === 0 && (
          <Nothing title={texts.none.title}>
            <p>
              {texts.none.about}{' '}
              <Link to="/bays" className="link">
                {texts.back}
              </Link>
            </p>
          </Nothing>
        )}
      </div>
      <div className="mt-2 border-t border-rule">
        {sheet.entries.map((entry) => (
          <EntryRow
            key={entry.frame ?? -entry.number}
            sheet={whole}
            entry={entry}
            tape={tape.find((each) => each.number === entry.number)}
            states={states}
            selection={selection}
            selected={selected}
            edit={edit}
            say={say}
            inHand={entry.number === hand.number}
            onTake={hand.take}
            close={sheet.entries.length > CLOSE}
          />
        ))}
      </div>
      <div className="page pb-6">
        <OtherFiles sheet={sheet} />
      </div>
      <SumLine sheet={sheet} onEntry={hand.goTo} />
    </div>
  )
}

const NONE: string[] = []
const NO_ENTRIES: Entry[] = []

/** With more entries than these each stands closer, so that many are read at a glance. */
const CLOSE = 4

/**
 * Which entry is in hand: the first that needs a word, else the first that has something new, until another is touched.
 */
function useHand(sheet: Sheet | undefined, tape: Ticks) {
  // by its first frame, which stays in it whatever is split or joined before it
  const [taken, setTaken] = useState<{ number: number; frame: number | null } | null>(null)
  const entries = sheet?.entries ?? NO_ENTRIES
  const offered =
    entries.find((entry) => entry.counts.new > 0 && entry.name.trim() === '' && !entry.into) ??
    entries.find((entry) => entry.counts.new > 0) ??
    entries[0]
  // what is being worked with stays, also when it needs a word no more
  const at = useCallback(
    (number: number) => ({ number, frame: entries.find((entry) => entry.number === number)?.frame ?? null }),
    [entries],
  )
  if (taken === null && offered) setTaken(at(offered.number))
  const frame = taken?.frame ?? null
  const home = useMemo(
    () => (frame === null || !sheet ? undefined : homeOf({ sheet, tape }, frame)),
    [sheet, tape, frame],
  )
  const number = Math.min(home ?? taken?.number ?? 1, Math.max(1, entries.length))
  const from = useRef<{ element: Element; top: number } | null>(null)
  useLayoutEffect(() => {
    // the row that was touched stays where it is while the one before it folds
    if (from.current) window.scrollBy(0, from.current.element.getBoundingClientRect().top - from.current.top)
    from.current = null
  }, [number])
  const take = useCallback(
    (wanted: number) => {
      const element = document.getElementById(`entry-${wanted}`)
      from.current = element && { element, top: element.getBoundingClientRect().top }
      setTaken(at(wanted))
    },
    [at],
  )
  const goTo = useCallback(
    (wanted: number) => {
      setTaken(at(wanted))
      requestAnimationFrame(() => {
        document.getElementById(`entry-${wanted}`)?.scrollIntoView({ block: 'nearest' })
        document
          .querySelector<HTMLElement>(`#entry-${wanted} input, #entry-${wanted} .frames`)
          ?.focus({ preventScroll: true })
      })
    },
    [at],
  )
  return { number, take, goTo }
}

const Head = memo(function Head({ sheet, edit }: { sheet: Sheet; edit: (edit: Edit) => void }) {
  const frames = sheet.entries.reduce((sum, entry) => sum + entry.frames, 0)
  const size = sheet.entries.reduce((sum, entry) => sum + entry.bytes, 0)
  const known = sheet.entries.flatMap((entry) => (entry.day === null ? [] : [entry.day])).sort()
  const [first, last] = [known[0], known.at(-1)]
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 pt-3.5 pb-1.5">
      <Heading>{texts.title(sheet)}</Heading>
      <p className="text-soft">
        {texts.cards(sheet.cards.length)}{' '}
        <strong className="font-semibold text-ink">{list(sheet.cards.map((card) => card.label))}</strong>
        {' · '}
        {plural(frames, 'frame')}, {bytes(size)}
        {first && last && ` · ${days(first, last)}`}
        {sheet.cards.some((card) => !card.present) && ` · ${texts.out}`}
      </p>
      <div className="ml-auto flex flex-wrap items-baseline gap-x-6 text-soft">
        {sheet.state === 'sheet' && <History sheet={sheet} edit={edit} />}
        {isOver(sheet.state) && <ReceiptLinks sheet={sheet} />}
        {sheet.progress?.started_at && <p>{texts.started(instant(sheet.progress.started_at))}</p>}
      </div>
    </div>
  )
})

function History({ sheet: { history }, edit }: { sheet: Sheet; edit: (edit: Edit) => void }) {
  const steps = [
    ['undo', 'Ctrl Z', history.undo],
    ['redo', 'Ctrl Shift Z', history.redo],
  ] as const
  return steps.map(
    ([what, keys, of]) =>
      of !== null && (
        <Tip key={what} says={keys}>
          <button
            type="button"
            className="link text-[13px]"
            onClick={() => {
              edit({ do: what })
            }}
          >
            {texts[what](of)}
          </button>
        </Tip>
      ),
  )
}
