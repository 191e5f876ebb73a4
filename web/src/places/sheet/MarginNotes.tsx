import { useState } from 'react'
import type { Entry } from '../../api/client'
import { plural } from '../../parts/words'

/** What is worth knowing about an entry, beside it: what was found, and the one thing to do. */
export function MarginNotes({
  entry,
  running,
  close,
  onShow,
  onPlay,
  onOffer,
}: {
  entry: Entry
  running: boolean
  close: boolean
  onShow: (positions: number[]) => void
  /** Plays the time-lapse that begins at a frame. */
  onPlay: (position: number) => void
  /** Missing while nothing can be done, or it is not known which frames stand where. */
  onOffer: ((offer: Offer, positions: number[]) => void) | undefined
}) {
  const [all, setAll] = useState(false)
  const short = close && !all
  const shown = short && entry.notes.length > 3 ? entry.notes.slice(0, 2) : entry.notes
  return (
    <div
      role="group"
      aria-label={`Notes on entry ${entry.number}`}
      className="border-l-[3px] border-double border-rule-strong pl-3.5 text-[13px] leading-[1.45]"
    >
      {shown.map((note) => (
        <div
          key={`${note.code} ${note.spans[0]?.first ?? ''}`}
          className={short ? 'flex flex-wrap gap-x-3' : 'mb-2.5'}
          title={short ? note.text : undefined}
        >
          <div className={`font-semibold ${note.asks ? 'text-brass' : 'text-ink'}`}>{note.title}</div>
          <div className={short ? 'sr-only' : 'text-soft'}>{note.text}</div>
          {note.spans.length > 0 && (
            <span className="flex flex-wrap gap-x-3">
              <button
                type="button"
                className="link"
                onClick={() => {
                  onShow(positionsIn(note.spans))
                }}
              >
                {isOne(note.spans) ? 'Show it' : 'Show them'}
              </button>
              {note.code === 'time_lapse' && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    onPlay(note.spans[0]?.first ?? 0)
                  }}
                >
                  Play it
                </button>
              )}
              {note.offers !== null && onOffer && !(short && note.offers === 'leave_out') && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    if (note.offers) onOffer(note.offers, positionsIn(note.spans))
                  }}
                >
                  {
                    {
                      leave_out: `Leave ${isOne(note.spans) ? 'it' : 'them'} out`,
                      split: 'Begin an entry there',
                      set_aside: 'Into a folder',
                      bring_back: 'Back into the shoot',
                    }[note.offers]
                  }
                </button>
              )}
            </span>
          )}
        </div>
      ))}
      {shown.length < entry.notes.length && (
        <button
          type="button"
          className="link"
          onClick={() => {
            setAll(true)
          }}
        >
          {entry.notes.length - shown.length} more notes
        </button>
      )}
      {running && <Outcome entry={entry} />}
    </div>
  )
}

type Offer = NonNullable<Entry['notes'][number]['offers']>

type Spans = Entry['notes'][number]['spans']

const isOne = (spans: Spans) => spans.length === 1 && spans[0]?.count === 1

const positionsIn = (spans: Spans) =>
  spans.flatMap(({ first, count }) => Array.from({ length: count }, (_, i) => first + i))

function Outcome({ entry }: { entry: Entry }) {
  const { counts, progress } = entry
  return (
    <>
      {progress && progress.files > 0 && progress.files === progress.files_done && (
        <div className="mb-2.5 font-semibold text-verdigris">✓ Verified in every place</div>
      )}
      {progress && progress.failed > 0 && (
        <div className="mb-2.5 font-semibold text-brass">{plural(progress.failed, 'file')} failed; see above</div>
      )}
      {counts.filed > 0 && (
        <div className="mb-2.5 text-soft">{plural(counts.filed, 'frame')} already filed, skipped.</div>
      )}
      {counts.twice > 0 && (
        <div className="mb-2.5 text-soft">{plural(counts.twice, 'frame')} here twice, copied once.</div>
      )}
      {counts.unreadable > 0 && (
        <div className="mb-2.5 text-soft">{plural(counts.unreadable, 'frame')} could not be read.</div>
      )}
    </>
  )
}
