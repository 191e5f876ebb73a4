import { memo, useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Edit, type Entry, type EntryChange, type SheetFrame, type Tape } from '../../api/client'
import { useFrameWindow, type FrameWindow } from '../../api/frames'
import { classes } from '../../parts/classes'
import { ContactSheet, type Selecting } from '../../parts/ContactSheet'
import { act } from '../../keys/keys'
import { ContactStrip } from '../../parts/ContactStrip'
import type { Seen } from '../../parts/Frame'
import { Look } from '../../parts/Look'
import { PathText } from '../../parts/PathText'
import { bytes, plural } from '../../parts/words'
import type { Whole } from './edits'
import { EntryLines, type Opened } from './EntryLines'
import { EntryName } from './EntryName'
import { FileList } from './FileList'
import { FoldedStrip } from './FoldedStrip'
import { Groups } from './Groups'
import { Outcome } from './Outcome'
import { ReceiptLinks } from './ReceiptPlace'
import { SaysCard } from './SaysCard'
import { useWide } from '../../parts/useWide'
import { runOf } from '../../parts/playback'
import { RunPlayer } from '../../parts/RunPlayer'
import type { Selection } from '../../parts/selection'
import type { States } from '../../model/operations'
import { usePlannedFrames } from '../../store/sheet-frames'
import { Filling } from '../../parts/Filling'
import { texts } from './texts'

const RUNS = ['time_lapse', 'interval_change', 'bracket', 'burst']

const says = texts.entry

interface Props {
  sheet: Whole
  entry: Entry
  /** Its frames in their order. */
  tape: Tape[number] | undefined
  states: States
  selection: Selection
  /** What can be done with the selected frames; none where none are. */
  selected: ReactNode
  edit: (edit: Edit) => void
  say: (number: number, change: EntryChange) => void
  /** Whether it is the one that is worked with: open over the whole width. */
  inHand: boolean
  onTake: (number: number) => void
  /** Whether there are so many that each stands closer. */
  close: boolean
}

/**
 * One row of the ledger page: a shoot-to-be with its name, its frames, what was found, and its amounts. One that is not
 * in hand is drawn anew only where something of it changed: a key pressed in another one is none of its business.
 */
export const EntryRow = memo(
  Row,
  (before, now) =>
    !before.inHand &&
    !now.inHand &&
    before.sheet === now.sheet &&
    before.entry === now.entry &&
    before.tape === now.tape &&
    before.states === now.states &&
    before.close === now.close,
)

function Row({ sheet, entry, tape, states, selection, selected, edit, say, inHand, onTake, close }: Props) {
  const frames = useSheetFrames(sheet, entry, tape?.frames ?? NONE, states)
  const [opened, setOpened] = useState<Opened>('strip')
  const [current, setCurrent] = useState(0)
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set())
  const [looking, setLooking] = useState(false)
  const [played, setPlayed] = useState<number | null>(null)
  const wide = useWide()
  const planned = sheet.state === 'sheet'
  const nothingNew = entry.counts.new === 0
  const arriving = !planned && sheet.state !== 'done'
  const { number, frame: leading } = entry
  const change = useCallback(
    (words: EntryChange) => {
      if (leading !== null) say(leading, words)
    },
    [say, leading],
  )
  const open = useCallback((what: Opened) => {
    setOpened((now) => (now === what ? 'strip' : what))
    setMarked(new Set())
  }, [])
  const light = useCallback((positions: number[]) => {
    setMarked(new Set(positions))
    if (positions[0] !== undefined) setCurrent(positions[0])
  }, [])
  const { set } = selection
  const select = useCallback(
    (positions: number[]) => {
      set(number, positions, false)
    },
    [set, number],
  )
  const show = useCallback(
    (positions: number[]) => {
      setOpened('sheet')
      setMarked(new Set(positions))
      setCurrent(positions[0] ?? 0)
      select(positions)
    },
    [select],
  )
  const takeThis = useCallback(() => {
    onTake(number)
  }, [onTake, number])
  const look = (position: number) => {
    setCurrent(position)
    setLooking(true)
  }
  const head = { sheet, entry, planned, arriving, nothingNew, change, inHand, onTake: takeThis }
  return (
    <section
      id={`entry-${entry.number}`}
      data-hand={inHand || undefined}
      aria-label={says.label(entry.number)}
      className={classes(
        'page scroll-mt-14 border-b border-rule',
        inHand
          ? 'border-l-4 border-l-velvet bg-leaf py-3'
          : `border-l-4 border-l-transparent ${close ? 'py-1' : 'py-2'}`,
        !inHand && 'cursor-pointer hover:bg-leaf/60',
      )}
      onFocusCapture={inHand ? undefined : takeThis}
      onClick={inHand ? undefined : takeThis}
    >
      <div
        className={classes(
          'grid grid-cols-[36px_minmax(0,372fr)_minmax(0,522fr)_minmax(0,150fr)_100px] items-center gap-x-5',
          'max-lg:grid-cols-[28px_minmax(0,1fr)_100px]',
        )}
      >
        <div className={`serif leading-none text-velvet ${close && !inHand ? 'text-[22px]' : 'text-[28px]'}`}>
          {entry.number}
        </div>
        <div className="min-w-0">
          <Name {...head} />
          {!inHand && <p className="truncate text-[12.5px] text-soft">{where(entry)}</p>}
        </div>
        {inHand ? (
          <p className="col-span-2 min-w-0 text-[13px] wrap-anywhere text-soft max-lg:order-last max-lg:col-span-3">
            <Path entry={entry} />
          </p>
        ) : (
          <>
            <div className="max-lg:hidden">
              <FoldedStrip frames={frames} height={(close ? 34 : 44) + (wide ? 16 : 0)} arriving={arriving} />
            </div>
            <div className="min-w-0 text-[13px] max-lg:hidden">
              {planned ? <InShort entry={entry} /> : <Outcome entry={entry} />}
            </div>
          </>
        )}
        <Amounts entry={entry} planned={planned} arriving={arriving} large={inHand} />
      </div>
      {inHand && (
        <div className="mt-2.5 sm:ml-[56px]">
          {planned && !nothingNew && <MoreWords {...head} />}
          {opened !== 'sheet' && (
            <ContactStrip
              frames={frames}
              label={says.frames(entry.number)}
              current={current}
              onCurrent={setCurrent}
              onLook={look}
              onOpen={() => {
                open('sheet')
              }}
              arriving={arriving}
              height={wide ? 144 : 96}
              marked={marked}
            />
          )}
          <EntryLines
            {...{ sheet, entry, tape, opened, edit }}
            onChange={change}
            onOpen={open}
            onLight={light}
            onShow={show}
            onPlay={setPlayed}
          />
          {opened !== 'strip' && (
            <InSight>
              {opened === 'sheet' && (
                <ContactSheet
                  frames={frames}
                  label={says.contactSheetOf(entry.number)}
                  current={current}
                  onCurrent={setCurrent}
                  onLook={look}
                  onClose={() => {
                    open('sheet')
                  }}
                  arriving={arriving}
                  marked={marked}
                  selecting={
                    planned
                      ? selectingIn(entry, tape?.frames ?? NONE, frames, selection, edit, (position) => {
                          setMarked(new Set([position]))
                          setCurrent(position)
                        })
                      : undefined
                  }
                  instead={selected}
                  tallest="max(300px, calc(100vh - 370px))"
                  tools={
                    planned && <Groups sheet={sheet.id} number={entry.number} count={entry.frames} select={select} />
                  }
                />
              )}
              {opened === 'says' && <SaysCard sheet={sheet.id} entry={entry} />}
              {opened === 'files' && (
                <>
                  <ReceiptLinks sheet={sheet} entry={entry.number} />
                  <FileList sheet={sheet.id} entry={entry} />
                </>
              )}
            </InSight>
          )}
        </div>
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
      {played !== null && (
        <Played
          entry={entry}
          tape={tape}
          frames={frames}
          first={played}
          onClose={() => {
            setPlayed(null)
          }}
        />
      )}
    </section>
  )
}

/** What a click opened comes into sight. */
function InSight({ children }: { children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    box.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  return (
    <div ref={box} className="mt-2.5 scroll-mt-14 scroll-mb-28">
      {children}
    </div>
  )
}

interface Head {
  sheet: Whole
  entry: Entry
  planned: boolean
  arriving: boolean
  nothingNew: boolean
  change: (words: EntryChange) => void
  inHand: boolean
  onTake: () => void
}

/** What the entry is called: typed straight in while it is planned. */
const Name = memo(function Name({ sheet, entry, planned, arriving, nothingNew, inHand, onTake }: Head) {
  if (planned && !nothingNew && entry.into === null) return <EntryName sheet={sheet.id} entry={entry} large={inHand} />
  const name =
    entry.into?.name ??
    (nothingNew
      ? entry.counts.filed > 0
        ? says.filed
        : says.nothing
      : entry.name || (entry.folder.split('/').at(-1) ?? ''))
  return (
    <>
      <h2 className={`truncate ${inHand ? 'text-[21px]' : 'text-[17px]'}`}>
        {inHand ? (
          entry.shoot ? (
            <Link to={`/shoots/${entry.shoot}`} className="hover:text-velvet hover:underline">
              {name}
            </Link>
          ) : (
            name
          )
        ) : (
          <button type="button" className="max-w-full truncate text-left" aria-expanded={false} onClick={onTake}>
            {name}
          </button>
        )}
      </h2>
      {arriving && <Copied entry={entry} />}
    </>
  )
})

function Copied({ entry }: { entry: Entry }) {
  const progress = entry.progress
  const share = !progress || progress.files === 0 ? 0 : progress.files_done / progress.files
  return <Filling dark className="mt-1 h-[3px]" share={share} label={says.copied(entry.number)} />
}

/** Kind of shoot, client and trip, where names say them; and the shoot that is there already. */
const MoreWords = memo(function MoreWords({ sheet, entry, change }: Head) {
  const asked = (['shoot_kind', 'client', 'trip'] as const).filter((word) => sheet.asks.includes(word))
  return (
    <div className="mb-2 flex flex-wrap items-baseline gap-x-6 empty:hidden">
      {asked.map((word) => (
        <span key={word} className="w-[220px]">
          <EntryName sheet={sheet.id} entry={entry} field={word === 'shoot_kind' ? 'kind' : word} />
        </span>
      ))}
      <Into
        entry={entry}
        onInto={(into) => {
          change({ into })
        }}
      />
    </div>
  )
})

const where = (entry: Entry) =>
  entry.counts.new === 0 && entry.filed_in?.length ? entry.filed_in.join(', ') : entry.folder

/** Folder and first file as they will be, the shoot's own folder to be met first. */
const Path = memo(function Path({ entry }: { entry: Entry }) {
  const folder = where(entry)
  const slash = folder.lastIndexOf('/') + 1
  return (
    <>
      <PathText path={folder.slice(0, slash)} />
      <strong className="font-semibold text-ink">
        <PathText path={folder.slice(slash)} />
      </strong>
      {entry.sample !== null && <PathText path={`/${entry.sample}`} />}
    </>
  )
})

/** The notes of an entry that is not in hand, in two lines: what asks for attention first. */
function InShort({ entry }: { entry: Entry }) {
  const asking = entry.notes.filter((note) => note.asks)
  const shown = asking.length > 0 ? asking : entry.notes
  if (shown.length === 0) return null
  return (
    <span className={`line-clamp-2 leading-[1.35] ${asking.length > 0 ? 'text-brass' : 'text-soft'}`}>
      {shown.map((note) => note.title).join(', ')}
    </span>
  )
}

const Amounts = memo(function Amounts({
  entry,
  planned,
  arriving,
  large,
}: {
  entry: Entry
  planned: boolean
  arriving: boolean
  large: boolean
}) {
  const { counts, progress } = entry
  const many = planned ? counts.new : (progress?.frames_done ?? 0)
  const all = planned || counts.new === 0 ? entry.frames : counts.new
  return (
    <div className="text-right text-[12.5px] leading-[1.35] text-soft">
      <div className={`${large ? 'text-[20px]' : 'text-[16px]'} leading-tight font-semibold text-ink`}>
        {many.toLocaleString('en')}
      </div>{' '}
      <div>{many === all && planned ? says.frameWord(many) : says.of(plural(all, 'frame'))}</div>
      {counts.new > 0 && large && (
        <div>
          <span className="whitespace-nowrap">{bytes(arriving && progress ? progress.bytes_done : entry.bytes)}</span>
          {arriving && (
            <>
              {' '}
              <span className="whitespace-nowrap">{says.of(bytes(entry.bytes))}</span>
            </>
          )}
        </div>
      )}
    </div>
  )
})

function Played({
  entry,
  tape,
  frames,
  first,
  onClose,
}: {
  entry: Entry
  tape: Tape[number] | undefined
  frames: FrameWindow<Seen>
  first: number
  onClose: () => void
}) {
  const run = useMemo(() => runOf(entry.notes, first), [entry.notes, first])
  const light = useMemo(() => run.positions.map((position) => tape?.brightness[position] ?? null), [run, tape])
  return <RunPlayer title={says.timeLapse(entry.number)} frames={frames} run={run} light={light} onClose={onClose} />
}

/**
 * Selecting in this entry's contact sheet, and the keys that act on what is selected, or on the frame at hand.
 *
 * @param ids of the entry's frames, in order: known before a frame itself has come, so that no key is lost
 */
function selectingIn(
  { number, notes }: Entry,
  ids: readonly number[],
  frames: FrameWindow<Seen & { id: number }>,
  selection: Selection,
  edit: (edit: Edit) => void,
  onGo: (position: number) => void,
): Selecting {
  const meant = (position: number): number[] => {
    const id = ids[position]
    return selection.ids.size > 0 ? [...selection.ids] : id === undefined ? [] : [id]
  }
  return {
    has: (position) => {
      const id = ids[position]
      return id !== undefined && selection.ids.has(id)
    },
    press: (position, way) => {
      selection.press(number, position, way)
    },
    set: (positions, add) => {
      selection.set(number, positions, add)
    },
    onKey: (event, position) => {
      act('selecting', event, {
        leaveOut: () => {
          const out = frames.at(position)?.state === 'left_out'
          if (meant(position).length > 0) edit({ do: out ? 'take_back' : 'leave_out', frames: meant(position) })
        },
        nextNote: () => {
          // to where the next run or interval begins, or a frame is missed, round again at the end
          const starts = notes
            .filter((note) => RUNS.includes(note.code))
            .flatMap((note) => [note.spans[0]?.first ?? 0, ...note.missed])
            .sort((a, b) => a - b)
          const next = starts.find((start) => start > position) ?? starts[0]
          if (next !== undefined) onGo(next)
        },
        begin: () => {
          const id = ids[position]
          if (id !== undefined && position > 0) edit({ do: 'split', frame: id })
        },
      })
    },
  }
}

/** A shoot that is there already and could take these frames, or does. */
function Into({ entry, onInto }: { entry: Entry; onInto: (shoot: number) => void }) {
  const offer = entry.shoots.find((shoot) => shoot.folder !== entry.folder)
  const [sentence, act, into] = entry.into
    ? ([says.joins, says.apart, 0] as const)
    : offer
      ? ([says.exists(offer.name), says.addTo, offer.id] as const)
      : ([says.numbering, null, 0] as const)
  if (!entry.into && entry.shoots.length === 0) return null
  return (
    <p className="text-[13px] text-soft">
      {sentence}{' '}
      {act !== null && (
        <button
          type="button"
          className="link"
          onClick={() => {
            onInto(into)
          }}
        >
          {act}
        </button>
      )}
    </p>
  )
}

const NONE: number[] = []

function useSheetFrames(sheet: Whole, entry: Entry, ids: number[], states: States): FrameWindow<Seen & { id: number }> {
  const isPlanned = sheet.state === 'sheet'
  const planned = usePlannedFrames(sheet.id, isPlanned ? ids : NONE, states)
  const filed = useFrameWindow<SheetFrame>(
    ['frames', 'sheet', sheet.id, entry.number],
    isPlanned ? 0 : entry.frames,
    (offset, limit) => api.sheetFrames(sheet.id, entry.number, offset, limit),
  )
  const window = isPlanned ? planned : filed
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
  if (frame.state === 'filed') return [says.filedAs(frame.same_as)]
  return frame.to.map(
    (to, i) => `${frame.from[i] ?? ''}  →  ${to}${frame.digests?.[i] ? `   ${frame.digests[i]}` : ''}`,
  )
}
