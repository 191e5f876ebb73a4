import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, type Order, type Progress, type Sheet } from '../../api/client'
import type { Within } from '../../model/copying'
import { classes } from '../../parts/classes'
import { Reasons } from '../../parts/MayFormat'
import { proofOf } from '../../parts/may-format'
import { useNotices } from '../../parts/notices'
import { Pick } from '../../parts/Pick'
import { stageOf } from '../../parts/stage'
import { bytes, duration, list, plural, timeLeft } from '../../parts/words'
import { useAsk, useEditsDone } from './edits'
import { Filling } from '../../parts/Filling'

/** The sum at the foot of the page, and the one button, which says what it will do. */
export function SumLine({ sheet, onEntry }: { sheet: Sheet; onEntry: (number: number) => void }) {
  const queries = useQueryClient()
  const editsDone = useEditsDone(sheet.id)
  const order = useMutation({
    meta: { inPlace: true },
    mutationFn: async (what: Order) => {
      if (!(await editsDone()))
        throw new Error('The sheet is not as it was shown: an edit was refused. Look at it again, then copy.')
      return api.order(sheet.id, what)
    },
    onSuccess: (answer) => {
      queries.setQueryData(['sheet', sheet.id], answer)
      void queries.invalidateQueries({ queryKey: ['frames', 'sheet', sheet.id] })
      void queries.invalidateQueries({ queryKey: ['bays'] })
    },
  })
  const give = (what: Order) => {
    order.mutate(what)
  }
  return (
    <footer data-sum className="page sticky bottom-0 z-20 mt-auto border-t border-ink bg-leaf">
      <div className="absolute inset-x-0 top-[2px] border-t border-ink" />
      {sheet.progress?.halted && (
        <div role="alert" className="mt-2 border border-rose-rule bg-rose px-4 py-1.5">
          {sheet.progress.halted}
        </div>
      )}
      {order.error && (
        <div role="alert" className="mt-2 border border-rose-rule bg-rose px-4 py-1.5">
          {order.error.message}
        </div>
      )}
      <div
        className={classes(
          'flex min-h-[78px] flex-wrap items-center gap-x-9 gap-y-2 py-3',
          'max-sm:max-h-[38vh] max-sm:overflow-y-auto',
        )}
      >
        {sheet.progress === null ? (
          <Plan
            sheet={sheet}
            onCopy={() => {
              give('copy')
            }}
            onEntry={onEntry}
            busy={order.isPending}
          />
        ) : (
          <UnderWay sheet={sheet} progress={sheet.progress} onOrder={give} />
        )}
      </div>
    </footer>
  )
}

function Plan({
  sheet,
  onCopy,
  onEntry,
  busy,
}: {
  sheet: Sheet
  onCopy: () => void
  onEntry: (number: number) => void
  busy: boolean
}) {
  const count = (state: 'new' | 'filed' | 'twice' | 'left_out' | 'unreadable') =>
    sheet.entries.reduce((sum, entry) => sum + entry.counts[state], 0)
  const { fresh } = sheet
  const unnamed = sheet.entries.find((entry) => entry.counts.new > 0 && entry.name.trim() === '')
  const toUnnamed = () => {
    if (unnamed) onEntry(unnamed.number)
  }
  const others = [
    [count('filed'), 'already filed'],
    [count('twice'), 'here twice'],
    [count('left_out'), 'left out'],
    [count('unreadable'), 'unreadable'],
  ]
    .filter(([n]) => n !== 0)
    .map(([n, word]) => `${n} ${word}`)
  const pairs = fresh - count('new') // below zero: of halves that lie on two cards
  if (pairs !== 0) others.push(`${plural(Math.abs(pairs), 'pair')} filed as ${pairs > 0 ? 'two frames' : 'one frame'}`)
  return (
    <>
      <div>
        <div className="serif text-[23px]">
          {fresh === 0 && sheet.loose > 0 ? plural(sheet.loose, 'other file') : plural(fresh, 'frame')} ·{' '}
          {bytes(sheet.bytes)}
        </div>
        <div className="text-[13px] text-soft">
          {others.length > 0 ? others.join(', ') : 'every frame on the card is new'}
        </div>
      </div>
      <Where sheet={sheet} />
      <div className="ml-auto flex items-center gap-4">
        {sheet.waits_for && (
          <span id="waits" className="max-w-[30ch] text-right text-[13px] text-brass">
            {unnamed ? (
              <button type="button" className="text-brass underline underline-offset-3" onClick={toUnnamed}>
                {sheet.waits_for}
              </button>
            ) : (
              sheet.waits_for
            )}
          </span>
        )}
        <button
          type="button"
          className="button button-main min-h-[46px] px-7 text-[16px]"
          disabled={sheet.waits_for !== null || busy}
          aria-describedby={sheet.waits_for ? 'waits' : undefined}
          onClick={onCopy}
        >
          {fresh === 0 && sheet.loose > 0
            ? `Copy ${plural(sheet.loose, 'other file')}`
            : fresh === 0 && sheet.waits_for === null
              ? `Enter ${plural(count('filed'), 'filed frame')}`
              : `Copy ${plural(fresh, 'frame')}`}
        </button>
      </div>
    </>
  )
}

function Where({ sheet }: { sheet: Sheet }) {
  const bays = useQuery({ queryKey: ['bays'], queryFn: api.bays })
  const ask = useAsk(sheet.id)
  const shelves = bays.data?.shelves ?? []
  if (sheet.shelf === null) return <div className="text-[13px] text-soft">No shelf yet</div>
  const short = sheet.rooms.some((room) => room.missing > 0 || room.free === null)
  return (
    <div>
      <div className="flex items-center gap-1.5">
        <span className="text-soft">to</span>
        {shelves.length > 1 ? (
          <Pick
            label="Shelf"
            side="top"
            value={String(sheet.shelf.id)}
            choices={shelves.map((shelf) => ({ value: String(shelf.id), label: shelf.name }))}
            onPick={(value) => {
              ask({ do: 'rule', rule: { shelf: Number(value) } }).catch(() => undefined) // told above
            }}
          />
        ) : (
          <strong className="font-semibold">{sheet.shelf.name}</strong>
        )}
        <span>{sheet.shelf.twin_root ? 'and its twin' : ', which has no twin'}</span>
      </div>
      {sheet.same_drive && (
        <div className="text-[13px] text-brass">both on one drive: no second place if that fails</div>
      )}
      <div className={`text-[13px] ${short ? 'text-brass' : 'text-soft'}`}>{roomInWords(sheet)}</div>
    </div>
  )
}

/** What will be left on each drive, or why the copy cannot go there. */
function roomInWords(sheet: Sheet): string {
  const name = (role: 'shelf' | 'twin') => (role === 'twin' ? 'Twin' : (sheet.shelf?.name ?? 'Shelf'))
  if (sheet.rooms.every((room) => room.free !== null && room.missing === 0)) {
    const left = sheet.rooms.map((room) => bytes((room.free ?? 0) - sheet.takes))
    return `room on ${left.length > 1 ? 'both' : 'it'}; ${list(left)} will be left`
  }
  return sheet.rooms
    .map((room) =>
      room.free === null
        ? `${name(room.role)} not connected.`
        : room.missing > 0
          ? `${name(room.role)} lacks ${bytes(room.missing)}.`
          : `${name(room.role)} will have ${bytes(room.free - sheet.takes)} left.`,
    )
    .join(' ')
}

function UnderWay({ sheet, progress, onOrder }: { sheet: Sheet; progress: Progress; onOrder: (order: Order) => void }) {
  const done = progress.bytes_done + useWithin(sheet, progress)
  const pace = usePace(progress.bytes, done, sheet.state)
  const { converts, share } = stageOf(progress, done - progress.bytes_done)
  if (sheet.state === 'done' || sheet.state === 'stopped')
    return <Finished sheet={sheet} progress={progress} onOrder={onOrder} />
  return (
    <>
      <div>
        <div className="serif text-[23px]">
          {progress.frames_done.toLocaleString('en')} of {plural(progress.frames, 'frame')}
        </div>
        <div className="text-[13px] text-soft">
          {bytes(progress.bytes_done)} of {bytes(progress.bytes)} verified
          {progress.dng &&
            `, ${progress.dng.made.toLocaleString('en')} of ${plural(progress.dng.wanted, 'DNG')} proven`}
          {progress.to_write > 0 && `, ${plural(progress.to_write, 'file')} to be written into`}
        </div>
      </div>
      <div className="min-w-[220px] flex-1">
        <Filling className="h-1.5" share={share} label={converts ? 'Conversion' : 'Copy'} />
        <div className="mt-1 flex justify-between gap-6 text-[13px] text-soft">
          <span className="whitespace-nowrap">
            {sheet.state === 'paused'
              ? 'Paused; what is copied stays filed'
              : converts
                ? 'copied; converting the raw files'
                : pace.rate > 0
                  ? `${bytes(pace.rate)} a second`
                  : 'starting'}
          </span>
          {sheet.state !== 'paused' && (
            <span className="min-w-0 truncate" title={inHand(progress)}>
              {inHand(progress)}
            </span>
          )}
          <span className="whitespace-nowrap">
            {sheet.state !== 'paused' && !converts && pace.rate > 0 ? timeLeft(pace.left) : ''}
          </span>
        </div>
      </div>
      <div className="flex items-center gap-3">
        <FirstLooks sheet={sheet} />
        <TellMe />
        {sheet.state === 'paused' ? (
          <button
            type="button"
            className={`button ${progress.halted ? '' : 'button-main'}`}
            onClick={() => {
              onOrder('resume')
            }}
          >
            Resume
          </button>
        ) : (
          <button
            type="button"
            className="button"
            onClick={() => {
              onOrder('pause')
            }}
          >
            Pause
          </button>
        )}
        <button
          type="button"
          className="button"
          onClick={() => {
            onOrder('stop')
          }}
        >
          Stop here
        </button>
      </div>
    </>
  )
}

function Finished({ sheet, progress, onOrder }: { sheet: Sheet; progress: Progress; onOrder: (order: Order) => void }) {
  const skipped = [
    [progress.already_filed, 'already filed'],
    [progress.twice, 'here twice'],
    [progress.left_out, 'left out'],
    [progress.unreadable, 'unreadable'],
  ]
    .filter(([n]) => n !== 0)
    .map(([n, word]) => `${n} ${word}`)
  return (
    <>
      <div>
        <div className="serif text-[23px]">
          {plural(progress.frames_done, 'frame')} filed · {bytes(progress.bytes_filed)}
        </div>
        <div className="text-[13px] text-soft">
          {[sheet.state === 'stopped' ? 'stopped before the end' : `in ${duration(progress.seconds)}`, ...skipped].join(
            ', ',
          )}
        </div>
        {progress.dng && <div className="text-[13px]">{savedBy(progress.dng)}</div>}
      </div>
      <div className="min-w-0 flex-1 basis-[320px]">
        {progress.clearances.map((clearance) =>
          clearance.cleared ? (
            <div key={clearance.card} className="font-semibold text-verdigris">
              ✓ {clearance.card} is cleared: {proofOf(clearance)}. It may be formatted in the camera.
            </div>
          ) : (
            <div key={clearance.card} className="text-[13px]">
              <span className="font-semibold text-brass">
                {clearance.copied
                  ? `${clearance.card} is copied, not cleared.`
                  : `Do not format ${clearance.card} yet.`}
              </span>{' '}
              <Reasons card={clearance.id} clearance={clearance} />
            </div>
          ),
        )}
      </div>
      <FirstLooks sheet={sheet} />
      {progress.failed > 0 && sheet.state === 'done' && (
        <button
          type="button"
          className="button button-main"
          onClick={() => {
            onOrder('retry')
          }}
        >
          Try {plural(progress.failed, 'file')} again
        </button>
      )}
    </>
  )
}

/** Leads on to what comes after the copy, and says how much of it is left. */
function FirstLooks({ sheet }: { sheet: Sheet }) {
  const looks = sheet.first_looks.filter(({ open }) => open > 0)
  const [first] = looks
  if (!first) return null
  if (looks.length > 1) {
    return (
      <details className="relative">
        <summary className="button">First look: {plural(looks.length, 'shoot')}</summary>
        <div className="menu absolute right-0 bottom-full mb-1.5 max-h-[50vh] overflow-y-auto p-1">
          <Link to={`/sheets/${sheet.id}/first-look`} className="block px-3 py-1.5 font-medium hover:bg-velvet-wash">
            All of them, {looks.reduce((sum, { open }) => sum + open, 0).toLocaleString('en')} open
          </Link>
          {looks.map(({ shoot, name, open }) => (
            <Link key={shoot} to={`/shoots/${shoot}/first-look`} className="block px-3 py-1.5 hover:bg-velvet-wash">
              {name}, {open.toLocaleString('en')} open
            </Link>
          ))}
        </div>
      </details>
    )
  }
  return (
    <Link to={`/shoots/${first.shoot}/first-look`} className="button">
      First look: {plural(first.open, 'frame')} open
    </Link>
  )
}

/** What became of the raw files that were to be DNG. */
export function savedBy({ made, refused, wanted, bytes_before, bytes_after }: NonNullable<Progress['dng']>): string {
  const kept = refused > 0 ? `; ${plural(refused, 'raw file')} stayed as received` : ''
  const left = wanted - made - refused
  const later = left > 0 ? `; ${left.toLocaleString('en')} still to do` : ''
  const sizes = `${bytes(bytes_before)} → ${bytes(bytes_after)}`
  return `${plural(made, 'raw file')} as DNG, ${sizes}, every pixel value checked${kept}${later}`
}

/** Asks once for leave to notify; from then on the browser says when an intake has ended, whatever page is open. */
function TellMe() {
  const notices = useNotices()
  if (notices.state === 'impossible') return null
  return (
    <label className="flex min-h-6 items-center gap-1.5 text-[13px] text-soft">
      <input type="checkbox" checked={notices.state === 'wanted'} onChange={notices.turn} />
      {notices.state === 'forbidden' ? 'the browser forbids notices' : 'tell me when it is done'}
    </label>
  )
}

/** What the workers are at: small files go together, so one of each step is named. */
function inHand(progress: Progress): string {
  const names = new Map<string, string[]>()
  for (const { name, step } of progress.now) names.set(step, [...(names.get(step) ?? []), name])
  return [...names]
    .map(([step, [first, ...more]]) => `${step} ${first ?? ''}${more.length > 0 ? ` and ${more.length} more` : ''}`)
    .join(', ')
}

/** Bytes of the files that are being worked on: read from the card counts for a half, read back for the other. */
function useWithin(sheet: Sheet, progress: Progress): number {
  const within = useQuery<Within>({
    queryKey: ['within', sheet.id],
    queryFn: () => ({}),
    staleTime: Infinity,
    initialData: {},
  }).data
  const places = Math.max(1, sheet.rooms.length)
  return progress.now.reduce(
    (sum, { name }) => sum + ((within[name]?.copying ?? 0) + (within[name]?.verifying ?? 0) / places) / 2,
    0,
  )
}

/** Bytes a second, smoothed over some seconds so that neither rate nor time left jumps. */
function usePace(all: number, done: number, state: Sheet['state']): { rate: number; left: number } {
  const seen = useRef({ at: 0, done: 0, rate: 0 })
  const [rate, setRate] = useState(0)
  useEffect(() => {
    const now = performance.now() / 1000
    const last = seen.current
    if (state !== 'running' || last.at === 0) {
      seen.current = { at: now, done, rate: last.rate }
      return
    }
    const passed = now - last.at
    if (passed < 0.4) return
    const momentary = Math.max(0, done - last.done) / passed
    const weight = last.rate === 0 ? 1 : Math.min(1, passed / 4)
    const smoothed = last.rate + (momentary - last.rate) * weight
    seen.current = { at: now, done, rate: smoothed }
    setRate(smoothed)
  }, [done, state])
  return { rate, left: rate > 0 ? Math.max(0, all - done) / rate : 0 }
}
