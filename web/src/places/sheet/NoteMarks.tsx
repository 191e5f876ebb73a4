import { useEffect, useRef, useState } from 'react'
import type { Entry } from '../../api/client'
import { texts } from './texts'

type Note = Entry['notes'][number]
type Offer = NonNullable<Note['offers']>

/** What was found on an entry, as marks in one row; a mark opens to its sentence and what can be done, beneath it. */
export function NoteMarks({
  entry,
  onLight,
  onShow,
  onPlay,
  onOffer,
}: {
  entry: Entry
  /** Lights the frames of the mark that is open; none when it is closed. */
  onLight: (positions: number[]) => void
  onShow: (positions: number[]) => void
  /** Plays the time-lapse that begins at a frame. */
  onPlay: (position: number) => void
  /** Missing while nothing can be done, or it is not known which frames stand where. */
  onOffer: ((offer: Offer, positions: number[]) => void) | undefined
}) {
  const [open, setOpen] = useState<string | null>(null)
  const note = entry.notes.find((each) => nameOf(each) === open)
  const sentence = useRef<HTMLParagraphElement>(null)
  const said = note !== undefined
  useEffect(() => {
    if (said) sentence.current?.scrollIntoView({ block: 'nearest' })
  }, [said])
  return (
    <div role="group" aria-label={texts.notes.label(entry.number)} className="min-w-0 text-[13px]">
      <div className="flex flex-wrap gap-2">
        {entry.notes.map((each) => (
          <button
            key={nameOf(each)}
            type="button"
            aria-expanded={nameOf(each) === open}
            className={`mark ${each.asks ? 'mark-asks' : ''}`}
            onClick={() => {
              const closes = nameOf(each) === open
              setOpen(closes ? null : nameOf(each))
              onLight(closes ? [] : positionsIn(each.spans))
            }}
          >
            {each.title}
          </button>
        ))}
      </div>
      {note && (
        <p ref={sentence} className="mt-1.5 max-w-[100ch] scroll-mb-28">
          <span className="text-soft">{note.text}</span>
          {note.spans.length > 0 && (
            <span className="ml-3 inline-flex flex-wrap gap-x-4">
              <button
                type="button"
                className="link"
                onClick={() => {
                  onShow(positionsIn(note.spans))
                }}
              >
                {texts.notes.show(isOne(note.spans))}
              </button>
              {note.code === 'time_lapse' && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    onPlay(note.spans[0]?.first ?? 0)
                  }}
                >
                  {texts.notes.play}
                </button>
              )}
              {note.offers !== null && onOffer && (
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    if (note.offers) onOffer(note.offers, positionsIn(note.spans))
                  }}
                >
                  {texts.notes.offers[note.offers](isOne(note.spans))}
                </button>
              )}
            </span>
          )}
        </p>
      )}
    </div>
  )
}

const nameOf = (note: Note) => `${note.code} ${note.spans[0]?.first ?? ''}`

const isOne = (spans: Note['spans']) => spans.length === 1 && spans[0]?.count === 1

const positionsIn = (spans: Note['spans']) =>
  spans.flatMap(({ first, count }) => Array.from({ length: count }, (_, i) => first + i))
