import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { api, type Edit, type Entry, type EntryChange, type Sheet, type SheetFrame, type Tape } from '../../api/client'
import { useFrameWindow, type FrameWindow } from '../../api/frames'
import { classes } from '../../parts/classes'
import { ContactSheet, type Selecting } from '../../parts/ContactSheet'
import { ContactStrip } from '../../parts/ContactStrip'
import type { Seen } from '../../parts/Frame'
import { Look } from '../../parts/Look'
import { bytes, clocks, days, plural } from '../../parts/words'
import { EntryMarks, EntryRaws } from './EntryMarks'
import { EntryName } from './EntryName'
import { FileList } from './FileList'
import { Groups } from './Groups'
import { MarginNotes } from './MarginNotes'
import { ReceiptLinks } from './ReceiptPlace'
import { SaysCard } from './SaysCard'
import { runOf } from '../../parts/playback'
import { RunPlayer } from '../../parts/RunPlayer'
import type { Selection } from '../../parts/selection'

const RUNS = ['time_lapse', 'interval_change', 'bracket', 'burst']

type Opened = 'strip' | 'sheet' | 'files' | 'says'

/** One row of the ledger page: a shoot-to-be with its name, its frames, its amounts and what is noted in the margin. */
export function EntryRow({
  sheet,
  entry,
  tape,
  selection,
  edit,
  say,
}: {
  sheet: Sheet
  entry: Entry
  /** Its frames in their order; missing where that is not known yet. */
  tape: Tape[number] | undefined
  selection: Selection
  edit: (edit: Edit) => void
  say: (number: number, change: EntryChange) => void
}) {
  const frames = useSheetFrames(sheet.id, entry)
  const ids = tape?.frames ?? []
  const [opened, setOpened] = useState<Opened>('strip')
  const [current, setCurrent] = useState(0)
  const [looking, setLooking] = useState(false)
  const [played, setPlayed] = useState<number | null>(null)
  const { notes } = entry
  const run = useMemo(() => (played === null ? null : runOf(notes, played)), [notes, played])
  const light = useMemo(() => run?.positions.map((position) => tape?.brightness[position] ?? null) ?? [], [run, tape])
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set())
  const planned = sheet.state === 'sheet'
  const nothingNew = entry.counts.new === 0
  // many entries stand closer, so that five are read at a glance
  const close = planned && sheet.entries.length > 3
  const selecting = planned
    ? selectingIn(entry.number, frames, selection, edit, (position) => {
        // to where the next run or interval begins, or a frame is missed, round again at the end
        const starts = entry.notes
          .filter((note) => RUNS.includes(note.code))
          .flatMap((note) => [note.spans[0]?.first ?? 0, ...note.missed])
          .sort((a, b) => a - b)
        const next = starts.find((start) => start > position) ?? starts[0]
        if (next === undefined) return
        setMarked(new Set([next]))
        setCurrent(next)
      })
    : undefined
  const arriving = !planned && sheet.state !== 'done'
  const marks = planned && !nothingNew && (
    <EntryMarks
      sheet={sheet}
      entry={entry}
      onChange={(change) => {
        say(entry.number, change)
      }}
    />
  )
  const look = (position: number) => {
    setCurrent(position)
    setLooking(true)
  }
  const open = (what: Opened) => {
    setOpened((now) => (now === what ? 'strip' : what))
    setMarked(new Set())
  }
  return (
    <section
      id={`entry-${entry.number}`}
      aria-label={`Entry ${entry.number}`}
      className={`scroll-mt-14 border-b border-rule ${close ? 'py-1.5' : 'pt-4 pb-4'}`}
    >
      <div
        className={classes(
          'grid grid-cols-[44px_minmax(260px,340px)_minmax(220px,1fr)_104px_212px] gap-x-5',
          'max-xl:grid-cols-[36px_minmax(230px,300px)_minmax(180px,1fr)_88px_186px] max-xl:gap-x-4',
        )}
      >
        <div className={`serif leading-none text-velvet ${close ? 'text-[26px]' : 'text-[34px]'}`}>{entry.number}</div>
        <div className="min-w-0">
          {nothingNew ? (
            <h2 className="pb-1 text-[20px]">{entry.counts.filed > 0 ? 'Filed already' : 'Nothing to copy'}</h2>
          ) : planned ? (
            <>
              {entry.into === null && <EntryName sheet={sheet.id} entry={entry} />}
              {sheet.asks.includes('shoot_kind') && <EntryName sheet={sheet.id} entry={entry} field="kind" />}
              {sheet.asks.includes('client') && <EntryName sheet={sheet.id} entry={entry} field="client" />}
              {sheet.asks.includes('trip') && <EntryName sheet={sheet.id} entry={entry} field="trip" />}
              <Into
                entry={entry}
                onInto={(shoot) => {
                  say(entry.number, { into: shoot })
                }}
              />
            </>
          ) : (
            <EntryDone entry={entry} />
          )}
          {close ? (
            <p className="mt-1 text-[12.5px] leading-[1.45]" title={`${entry.folder}/${entry.sample ?? ''}`}>
              <span className="block truncate">
                {nothingNew && entry.filed_in?.length ? entry.filed_in.join(', ') : entry.folder}
              </span>
              <span className="block truncate text-soft">{entry.sample ?? 'none to copy'}</span>
            </p>
          ) : (
            <dl className="mt-2 grid grid-cols-[64px_1fr] text-[13px] leading-[1.55]">
              <dt className="text-soft">folder</dt>
              <dd className="break-words">
                {nothingNew && entry.filed_in?.length ? entry.filed_in.join(', ') : entry.folder}
              </dd>
              <dt className="text-soft">{planned ? 'first file' : 'files'}</dt>
              <dd className="break-words">{entry.sample ?? <span className="text-soft">none to copy</span>}</dd>
            </dl>
          )}
          {close && marks}
        </div>
        <div className="min-w-0">
          {(opened === 'strip' || opened === 'says') && (
            <ContactStrip
              frames={frames}
              label={`Frames of entry ${entry.number}`}
              current={current}
              onCurrent={setCurrent}
              onLook={look}
              onOpen={() => {
                open('sheet')
              }}
              arriving={arriving}
              height={close ? 36 : 80}
            />
          )}
          <div
            className={classes(
              'flex flex-wrap items-baseline gap-x-4 text-[13px] text-soft',
              close ? 'mt-0.5' : 'mt-1.5 gap-y-0.5',
            )}
          >
            <span>{span(entry)}</span>
            {!close && <span>{entry.kinds.join(', ')}</span>}
            {planned && (
              <EntryRaws
                sheet={sheet}
                entry={entry}
                onChange={(change) => {
                  say(entry.number, change)
                }}
              />
            )}
            <span className="ml-auto flex gap-4">
              {planned && entry.number > 1 && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    edit({ do: 'join', number: entry.number })
                  }}
                >
                  Join with {entry.number - 1}
                </button>
              )}
              <button
                type="button"
                className="link"
                aria-expanded={opened === 'sheet'}
                onClick={() => {
                  open('sheet')
                }}
              >
                {opened === 'sheet' ? 'Close contact sheet' : 'Contact sheet'}
              </button>
              {planned && !nothingNew && (
                <button
                  type="button"
                  className="link"
                  aria-expanded={opened === 'says'}
                  onClick={() => {
                    open('says')
                  }}
                >
                  {opened === 'says' ? 'Close what they say' : 'What they say'}
                </button>
              )}
              {!planned && (
                <button
                  type="button"
                  className="link"
                  aria-expanded={opened === 'files'}
                  onClick={() => {
                    open('files')
                  }}
                >
                  {opened === 'files' ? 'Close files' : 'Files and checksums'}
                </button>
              )}
            </span>
          </div>
          {!close && marks}
        </div>
        <div className="text-right">
          <div className="text-[20px] leading-none font-semibold">
            {(planned ? entry.counts.new : (entry.progress?.frames_done ?? 0)).toLocaleString('en')}
          </div>
          <div className={`text-[13px] text-soft ${close ? '' : 'mt-1'}`}>
            {nothingNew
              ? `new of ${close ? entry.frames : plural(entry.frames, 'frame')}`
              : planned
                ? `of ${plural(entry.frames, 'frame')}`
                : `of ${entry.counts.new.toLocaleString('en')} verified`}
          </div>
          {!nothingNew && (
            <div className={`text-[14px] font-medium ${close ? '' : 'mt-1'}`}>
              {bytes(arriving && entry.progress ? entry.progress.bytes_done : entry.bytes)}
            </div>
          )}
          {!nothingNew && arriving && <div className="text-[13px] text-soft">of {bytes(entry.bytes)}</div>}
        </div>
        <MarginNotes
          entry={entry}
          running={!planned}
          close={close}
          onOffer={
            planned && ids.length === entry.frames
              ? (offer, positions) => {
                  const frames = positions.flatMap((position) => ids[position] ?? [])
                  if (offer === 'leave_out') edit({ do: 'leave_out', frames })
                  else if (offer === 'split') edit({ do: 'split', frame: frames[0] ?? 0 })
                  else say(entry.number, { strays: offer === 'set_aside' })
                }
              : undefined
          }
          onPlay={setPlayed}
          onShow={(positions) => {
            setOpened('sheet')
            setMarked(new Set(positions))
            setCurrent(positions[0] ?? 0)
            if (planned) selection.set(entry.number, positions, false)
          }}
        />
      </div>
      {opened === 'sheet' && (
        <div className="mt-3">
          <ContactSheet
            frames={frames}
            label={`Contact sheet of entry ${entry.number}`}
            current={current}
            onCurrent={setCurrent}
            onLook={look}
            onClose={() => {
              open('sheet')
            }}
            arriving={arriving}
            marked={marked}
            selecting={selecting}
            tools={
              planned && (
                <Groups
                  sheet={sheet.id}
                  number={entry.number}
                  count={entry.frames}
                  select={(positions) => {
                    selection.set(entry.number, positions, false)
                  }}
                />
              )
            }
          />
        </div>
      )}
      {opened === 'says' && <SaysCard sheet={sheet.id} entry={entry} />}
      {opened === 'files' && (
        <>
          <div className="mt-3">
            <ReceiptLinks sheet={sheet} entry={entry.number} />
          </div>
          <FileList sheet={sheet.id} entry={entry} />
        </>
      )}
      {looking && (
        <Look
          frames={frames}
          position={current}
          onMove={setCurrent}
          onClose={() => {
            setLooking(false)
          }}
        />
      )}
      {run && (
        <RunPlayer
          title={`Time-lapse of entry ${entry.number}`}
          frames={frames}
          run={run}
          light={light}
          onClose={() => {
            setPlayed(null)
          }}
        />
      )}
    </section>
  )
}

/** Selecting in this entry's contact sheet, and the keys that act on what is selected, or on the frame at hand. */
function selectingIn(
  number: number,
  frames: FrameWindow<Seen & { id: number }>,
  selection: Selection,
  edit: (edit: Edit) => void,
  toNextRun: (position: number) => void,
): Selecting {
  const meant = (position: number): number[] => {
    const id = frames.at(position)?.id
    return selection.ids.size > 0 ? [...selection.ids] : id === undefined ? [] : [id]
  }
  return {
    has: (position) => {
      const id = frames.at(position)?.id
      return id !== undefined && selection.ids.has(id)
    },
    press: (position, way) => {
      selection.press(number, position, way, frames.at(position)?.id)
    },
    set: (positions, add) => {
      selection.set(number, positions, add)
    },
    keys: {
      l: (position) => {
        const out = frames.at(position)?.state === 'left_out'
        if (meant(position).length > 0) edit({ do: out ? 'take_back' : 'leave_out', frames: meant(position) })
      },
      n: toNextRun,
      b: (position) => {
        const id = frames.at(position)?.id
        if (id !== undefined && position > 0) edit({ do: 'split', frame: id })
      },
    },
  }
}

/** A shoot that is there already and could take these frames, or does. */
function Into({ entry, onInto }: { entry: Entry; onInto: (shoot: number | null) => void }) {
  if (entry.into) {
    return (
      <div className="border-b border-dotted border-rule-strong pb-1">
        <h2 className="text-[20px]">{entry.into.name}</h2>
        <p className="text-[13px] text-soft">
          goes into the shoot that is there.{' '}
          <button
            type="button"
            className="link"
            onClick={() => {
              onInto(null)
            }}
          >
            Make it a new shoot
          </button>
        </p>
      </div>
    )
  }
  const offer = entry.shoots.find((shoot) => shoot.folder !== entry.folder)
  if (!offer)
    return entry.shoots.length > 0 ? (
      <p className="mt-1 text-[13px] text-soft">There is a shoot in this folder; its frames go on counting.</p>
    ) : null
  return (
    <p className="mt-1 text-[13px] text-soft">
      “{offer.name}” is on the shelf.{' '}
      <button
        type="button"
        className="link"
        onClick={() => {
          onInto(offer.id)
        }}
      >
        File into it
      </button>
    </p>
  )
}

function EntryDone({ entry }: { entry: Entry }) {
  const progress = entry.progress
  const share = !progress || progress.files === 0 ? 0 : progress.files_done / progress.files
  return (
    <div>
      <h2 className="text-[20px]">
        {entry.shoot ? (
          <Link to={`/shoots/${entry.shoot}`} className="hover:text-velvet hover:underline">
            {entry.name || entry.folder.split('/').at(-1)}
          </Link>
        ) : (
          entry.name || entry.folder.split('/').at(-1)
        )}
      </h2>
      <div
        className="mt-1 h-[3px] bg-rule"
        role="progressbar"
        aria-label={`Entry ${entry.number} copied`}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.floor(share * 100)}
      >
        <div className="h-full bg-ink transition-[width] duration-150" style={{ width: `${share * 100}%` }} />
      </div>
    </div>
  )
}

function span(entry: Entry): string {
  if (entry.first === null || entry.last === null) return 'no date'
  const [from, to] = [entry.day ?? entry.first.slice(0, 10), entry.day ?? entry.last.slice(0, 10)]
  return `${days(from, to)}, ${clocks(entry.first, entry.last)}`
}

function useSheetFrames(sheet: number, entry: Entry): FrameWindow<Seen & { id: number }> {
  const window = useFrameWindow<SheetFrame>(['frames', 'sheet', sheet, entry.number], entry.frames, (offset, limit) =>
    api.sheetFrames(sheet, entry.number, offset, limit),
  )
  return {
    ...window,
    at: (position) => {
      const frame = window.at(position)
      return frame && { ...frame, lines: lines(frame) }
    },
  }
}

/** Where the frame comes from and goes to, for the closer look. */
function lines(frame: SheetFrame): string[] {
  if (frame.state === 'filed') return [`Already filed as ${frame.same_as.join(', ')}`]
  return frame.to.map(
    (to, i) => `${frame.from[i] ?? ''}  →  ${to}${frame.digests?.[i] ? `   ${frame.digests[i]}` : ''}`,
  )
}
