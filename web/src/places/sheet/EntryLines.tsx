import { memo } from 'react'
import type { Edit, Entry, EntryChange, Tape } from '../../api/client'
import { ShowMore } from '../../parts/ShowMore'
import { clocks, days } from '../../parts/words'
import type { Whole } from './edits'
import { EntryKeywords, EntryRaws, EntryRights } from './EntryMarks'
import { NoteMarks } from './NoteMarks'
import { Outcome } from './Outcome'
import { texts } from './texts'

const says = texts.entry
const NONE: string[] = []

/** What stands open of an entry: its strip, or instead of it all its frames; beneath it its files or their metadata. */
export type Opened = 'strip' | 'sheet' | 'files' | 'says'

interface Props {
  sheet: Whole
  entry: Entry
  /** Its frames in their order. */
  tape: Tape[number] | undefined
  opened: Opened
  edit: (edit: Edit) => void
  onChange: (change: EntryChange) => void
  onOpen: (what: Opened) => void
  onLight: (positions: number[]) => void
  onShow: (positions: number[]) => void
  onPlay: (position: number) => void
}

/**
 * What was found on the entry in hand, what its files will say, and the ways to see more of it. A key pressed in its
 * contact sheet draws none of it anew.
 */
export const EntryLines = memo(function EntryLines({
  sheet,
  entry,
  tape,
  opened,
  edit,
  onChange,
  onOpen,
  onLight,
  onShow,
  onPlay,
}: Props) {
  const planned = sheet.state === 'sheet'
  const hasNew = entry.counts.new > 0
  const way = (what: Opened, name: string) => (
    <ShowMore
      open={opened === what}
      onOpen={() => {
        onOpen(what)
      }}
      says={[name, says.close(name)]}
    />
  )
  return (
    <>
      <div className="mt-2.5 flex flex-wrap items-start gap-x-8 gap-y-1.5">
        {planned ? (
          <NoteMarks
            entry={entry}
            onLight={onLight}
            onShow={onShow}
            onPlay={onPlay}
            onOffer={
              tape?.frames.length === entry.frames
                ? (offer, positions) => {
                    const meant = positions.flatMap((position) => tape.frames[position] ?? [])
                    if (offer === 'leave_out') edit({ do: 'leave_out', frames: meant })
                    else if (offer === 'split') edit({ do: 'split', frame: meant[0] ?? 0 })
                    else onChange({ strays: offer === 'set_aside' })
                  }
                : undefined
            }
          />
        ) : (
          <Outcome entry={entry} />
        )}
        {planned && hasNew && (
          <div className="min-w-[260px] flex-1">
            <EntryKeywords number={entry.number} keywords={entry.keywords ?? NONE} onChange={onChange} />
          </div>
        )}
      </div>
      <div className="mt-1.5 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[13px] text-soft">
        <span>
          {span(entry)}
          {entry.kinds.length > 0 && ` · ${entry.kinds.join(', ')}`}
        </span>
        {planned && <EntryRaws sheet={sheet} entry={entry} onChange={onChange} />}
        {planned && hasNew && <EntryRights sheet={sheet} entry={entry} onChange={onChange} />}
        <span className="ml-auto flex flex-wrap gap-x-5">
          {way('sheet', says.contactSheet)}
          {planned && hasNew && way('says', says.metadata)}
          {!planned && way('files', says.files)}
          {planned && entry.number > 1 && entry.frame !== null && (
            <button
              type="button"
              className="link"
              onClick={() => {
                edit({ do: 'join', frame: entry.frame ?? 0 })
              }}
            >
              {says.join(entry.number)}
            </button>
          )}
        </span>
      </div>
    </>
  )
})

function span(entry: Entry): string {
  if (entry.first === null || entry.last === null) return says.undated
  const [from, to] = [entry.day ?? entry.first.slice(0, 10), entry.day ?? entry.last.slice(0, 10)]
  return `${days(from, to)}, ${clocks(entry.first, entry.last)}`
}
