import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { api, type Sheet } from '../../api/client'
import { Nothing, Refusal, Trouble, Waiting } from '../../parts/Trouble'
import { bytes, days, instant, plural } from '../../parts/words'
import { Remarks } from './Remarks'
import { Clocks } from './Clocks'
import { EntryRow } from './EntryRow'
import { OtherFiles } from './OtherFiles'
import { useEdits, useUndoKeys } from './edits'
import { Rules } from './Rules'
import { SelectionBar } from './SelectionBar'
import { useSelection } from '../../parts/selection'
import { ReceiptLinks } from './ReceiptPlace'
import { SumLine } from './SumLine'
import { Tape } from './Tape'
import { Witnesses } from './Witnesses'

const TITLES = {
  sheet: 'Sheet',
  waiting: 'Intake',
  running: 'Intake',
  paused: 'Intake',
  stopped: 'Receipt',
  done: 'Receipt',
} as const

/** The sheet, which turns into its own progress and then into the receipt. */
export function SheetPlace() {
  const id = Number(useParams().id)
  const sheet = useQuery({ queryKey: ['sheet', id], queryFn: () => api.sheet(id) })
  const tape = useQuery({ queryKey: ['tape', id], queryFn: () => api.tape(id) })
  const { edit, change, say, error } = useEdits(id)
  const selection = useSelection(tape.data)
  const planned = sheet.data?.state === 'sheet'
  useUndoKeys(edit, planned)
  if (!sheet.data) return <Waiting error={sheet.error} />
  const toEntry = (number: number) => {
    document.getElementById(`entry-${number}`)?.scrollIntoView({ block: 'start' })
    document
      .querySelector<HTMLElement>(`#entry-${number} input, #entry-${number} [role=option]`)
      ?.focus({ preventScroll: true })
  }
  return (
    <div className="flex min-h-[calc(100vh-3rem)] flex-col">
      <div className="page">
        <Head sheet={sheet.data} />
        {planned && <Rules sheet={sheet.data} change={change} edit={edit} />}
        {planned && <Clocks sheet={sheet.data} edit={edit} />}
        {planned && sheet.data.cards.length > 1 && <Witnesses sheet={sheet.data.id} />}
        <Refusal of={error} />
        {sheet.data.cards
          .flatMap((card) => card.problems)
          .map((problem) => (
            <div key={problem} className="mb-2">
              <Trouble>{problem}</Trouble>
            </div>
          ))}
        {sheet.data.progress?.failures.map((failure) => (
          <div key={failure.path} className="mb-2">
            <Trouble>{failure.why}</Trouble>
          </div>
        ))}
        <Remarks all={sheet.data.progress?.remarks ?? []} />
        {tape.data && tape.data.length > 0 && (
          <Tape tape={tape.data} onEntry={toEntry} onEdit={planned ? edit : undefined} />
        )}
        {sheet.data.entries.length === 0 && (
          <Nothing title="No frames on this card">
            <p>
              Nothing on it is a picture that can be taken in.{' '}
              <Link to="/bays" className="link">
                Back to the bays
              </Link>
            </p>
          </Nothing>
        )}
        {sheet.data.entries.map((entry) => (
          <EntryRow
            key={entry.number}
            sheet={sheet.data}
            entry={entry}
            tape={tape.data?.find((each) => each.number === entry.number)}
            selection={selection}
            edit={edit}
            say={say}
          />
        ))}
        <OtherFiles sheet={sheet.data} />
      </div>
      {planned && tape.data && <SelectionBar sheet={sheet.data} tape={tape.data} selection={selection} edit={edit} />}
      <SumLine sheet={sheet.data} />
    </div>
  )
}

function Head({ sheet }: { sheet: Sheet }) {
  const frames = sheet.entries.reduce((sum, entry) => sum + entry.frames, 0)
  const size = sheet.entries.reduce((sum, entry) => sum + entry.bytes, 0)
  const known = sheet.entries.flatMap((entry) => (entry.day === null ? [] : [entry.day])).sort()
  const [first, last] = [known[0], known.at(-1)]
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 pt-5 pb-3">
      <h1 className="text-[28px]">
        {TITLES[sheet.state]} {sheet.id}
      </h1>
      <p className="text-soft">
        {sheet.cards.length > 1 ? 'Cards' : 'Card'}{' '}
        <strong className="font-semibold text-ink">{sheet.cards.map((card) => card.label).join(' and ')}</strong>
        {' · '}
        {plural(frames, 'frame')}, {bytes(size)}
        {first && last && ` · ${days(first, last)}`}
        {sheet.cards.some((card) => !card.present) && ' · the card is out'}
      </p>
      <div className="ml-auto flex flex-wrap items-baseline gap-x-6 text-soft">
        {(sheet.state === 'done' || sheet.state === 'stopped') && <ReceiptLinks sheet={sheet} />}
        {sheet.progress?.started_at && <p>started {instant(sheet.progress.started_at)}</p>}
      </div>
    </div>
  )
}
