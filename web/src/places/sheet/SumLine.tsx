import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { memo, useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, type Order, type Progress, type Sheet } from '../../api/client'
import type { Within } from '../../model/copying'
import { classes } from '../../parts/classes'
import { Reasons } from '../../parts/MayFormat'
import { proofOf } from '../../parts/may-format'
import { useNotices } from '../../parts/notices'
import { Pick } from '../../parts/Pick'
import { isOver, stageOf } from '../../parts/stage'
import { bytes, timeLeft } from '../../parts/words'
import { useAsk, useEditsDone } from './edits'
import { Filling } from '../../parts/Filling'
import { texts } from './texts'

const { sum: says, way, done } = texts

/** The sum at the foot of the page, and the one button, which says what it will do. */
export const SumLine = memo(function SumLine({ sheet, onEntry }: { sheet: Sheet; onEntry: (number: number) => void }) {
  const queries = useQueryClient()
  const editsDone = useEditsDone(sheet.id)
  const order = useMutation({
    meta: { inPlace: true },
    mutationFn: async (what: Order) => {
      if (!(await editsDone())) throw new Error(says.refused)
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
})

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
  const unnamed = sheet.waits_for_name
  const others = [
    [count('filed'), says.others.filed],
    [count('twice'), says.others.twice],
    [count('left_out'), says.others.left_out],
    [count('unreadable'), says.others.unreadable],
  ]
    .filter(([n]) => n !== 0)
    .map(([n, word]) => `${n} ${word}`)
  const pairs = fresh - count('new') // below zero: of halves that lie on two cards
  if (pairs !== 0) others.push(says.pairs(pairs))
  return (
    <>
      <div>
        <div className="serif text-[23px]">
          {says.what(fresh, sheet.loose)} · {bytes(sheet.bytes)}
        </div>
        <div className="text-[13px] text-soft">{others.length > 0 ? others.join(', ') : says.allNew}</div>
      </div>
      <Where sheet={sheet} />
      <div className="ml-auto flex items-center gap-4">
        {sheet.waits_for && (
          <span id="waits" className="max-w-[30ch] text-right text-[13px] text-brass">
            {unnamed !== null ? (
              <button
                type="button"
                className="text-brass underline underline-offset-3"
                onClick={() => {
                  onEntry(unnamed)
                }}
              >
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
          {fresh === 0 && sheet.loose === 0 && sheet.waits_for === null
            ? says.enter(count('filed'))
            : says.copy(says.what(fresh, sheet.loose))}
        </button>
      </div>
    </>
  )
}

function Where({ sheet }: { sheet: Sheet }) {
  const bays = useQuery({ queryKey: ['bays'], queryFn: api.bays })
  const ask = useAsk(sheet.id)
  const shelves = bays.data?.shelves ?? []
  if (sheet.shelf === null) {
    return (
      <div className="text-[13px] text-soft">
        {says.noShelf}{' '}
        <Link to="/bays#shelf" className="link">
          {says.addShelf}
        </Link>
      </div>
    )
  }
  const short = sheet.rooms.some((room) => room.missing > 0 || room.free === null)
  return (
    <div>
      <div className="flex items-center gap-1.5">
        <span className="text-soft">{says.to}</span>
        {shelves.length > 1 ? (
          <Pick
            label={says.shelf}
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
        <span>{sheet.shelf.twin_root ? says.withTwin : says.noTwin}</span>
      </div>
      {sheet.same_drive && <div className="text-[13px] text-brass">{says.sameDrive}</div>}
      <div className={`text-[13px] ${short ? 'text-brass' : 'text-soft'}`}>{roomInWords(sheet)}</div>
    </div>
  )
}

/** What will be left on each drive, or why the copy cannot go there. */
function roomInWords(sheet: Sheet): string {
  const name = (role: 'shelf' | 'twin') => (role === 'twin' ? says.twin : (sheet.shelf?.name ?? says.shelf))
  if (sheet.rooms.every((room) => room.free !== null && room.missing === 0)) {
    return says.left(sheet.rooms.map((room) => bytes((room.free ?? 0) - sheet.takes)))
  }
  return sheet.rooms
    .map((room) =>
      room.free === null
        ? says.away(name(room.role))
        : room.missing > 0
          ? says.lacks(name(room.role), room.missing)
          : says.willHave(name(room.role), room.free - sheet.takes),
    )
    .join(' ')
}

function UnderWay({ sheet, progress, onOrder }: { sheet: Sheet; progress: Progress; onOrder: (order: Order) => void }) {
  const done = progress.bytes_done + useWithin(sheet, progress)
  const pace = usePace(progress.bytes, done, sheet.state)
  const { converts, share } = stageOf(progress, done - progress.bytes_done)
  if (isOver(sheet.state)) return <Finished sheet={sheet} progress={progress} onOrder={onOrder} />
  return (
    <>
      <div>
        <div className="serif text-[23px]">{way.done(progress.frames_done, progress.frames)}</div>
        <div className="text-[13px] text-soft">{way.verified(progress)}</div>
      </div>
      <div className="min-w-[220px] flex-1">
        <Filling className="h-1.5" share={share} label={converts ? way.converting : way.copying} />
        <div className="mt-1 flex justify-between gap-6 text-[13px] text-soft">
          <span className="whitespace-nowrap">
            {sheet.state === 'paused'
              ? way.paused
              : converts
                ? way.converts
                : pace.rate > 0
                  ? way.rate(pace.rate)
                  : way.starting}
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
            {way.resume}
          </button>
        ) : (
          <button
            type="button"
            className="button"
            onClick={() => {
              onOrder('pause')
            }}
          >
            {way.pause}
          </button>
        )}
        <button
          type="button"
          className="button"
          onClick={() => {
            onOrder('stop')
          }}
        >
          {way.stop}
        </button>
      </div>
    </>
  )
}

function Finished({ sheet, progress, onOrder }: { sheet: Sheet; progress: Progress; onOrder: (order: Order) => void }) {
  const skipped = [
    [progress.already_filed, says.others.filed],
    [progress.twice, says.others.twice],
    [progress.left_out, says.others.left_out],
    [progress.unreadable, says.others.unreadable],
  ]
    .filter(([n]) => n !== 0)
    .map(([n, word]) => `${n} ${word}`)
  return (
    <>
      <div>
        <div className="serif text-[23px]">{done.filed(progress)}</div>
        <div className="text-[13px] text-soft">
          {[sheet.state === 'stopped' ? done.stopped : done.took(progress.seconds), ...skipped].join(', ')}
        </div>
        {progress.dng && <div className="text-[13px]">{done.dng(progress.dng)}</div>}
      </div>
      <div className="min-w-0 flex-1 basis-[320px]">
        {progress.clearances.map((clearance) =>
          clearance.cleared ? (
            <div key={clearance.card} className="font-semibold text-verdigris">
              {done.cleared(clearance.card, proofOf(clearance))}
            </div>
          ) : (
            <div key={clearance.card} className="text-[13px]">
              <span className="font-semibold text-brass">
                {clearance.copied ? done.copied(clearance.card) : done.notYet(clearance.card)}
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
          {done.retry(progress.failed)}
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
        <summary className="button">{done.firstLooks(looks.length)}</summary>
        <div className="menu absolute right-0 bottom-full mb-1.5 max-h-[50vh] overflow-y-auto p-1">
          <Link to={`/sheets/${sheet.id}/first-look`} className="block px-3 py-1.5 font-medium hover:bg-velvet-wash">
            {done.allLooks(looks.reduce((sum, { open }) => sum + open, 0))}
          </Link>
          {looks.map(({ shoot, name, open }) => (
            <Link key={shoot} to={`/shoots/${shoot}/first-look`} className="block px-3 py-1.5 hover:bg-velvet-wash">
              {done.lookOf(name, open)}
            </Link>
          ))}
        </div>
      </details>
    )
  }
  return (
    <Link to={`/shoots/${first.shoot}/first-look`} className="button">
      {done.firstLook(first.open)}
    </Link>
  )
}

/** Asks once for leave to notify; from then on the browser says when an intake has ended, whatever page is open. */
function TellMe() {
  const notices = useNotices()
  if (notices.state === 'impossible') return null
  return (
    <label className="flex min-h-6 items-center gap-1.5 text-[13px] text-soft">
      <input type="checkbox" checked={notices.state === 'wanted'} onChange={notices.turn} />
      {notices.state === 'forbidden' ? way.forbidden : way.tellMe}
    </label>
  )
}

/** What the workers are at: small files go together, so one of each step is named. */
function inHand(progress: Progress): string {
  const names = new Map<string, string[]>()
  for (const { name, step } of progress.now) names.set(step, [...(names.get(step) ?? []), name])
  return [...names].map(([step, [first, ...more]]) => way.inHand(step, first ?? '', more.length)).join(', ')
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
