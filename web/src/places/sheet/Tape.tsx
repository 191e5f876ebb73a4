import { memo, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Edit, Tape as Ticks } from '../../api/client'
import { act } from '../../keys/keys'
import { classes } from '../../parts/classes'
import { momentWithSeconds, moment } from '../../parts/words'
import { layOut, moveBreak, type TapeLayout } from '../../model/tape-layout'
import { Tip } from '../../parts/Tip'
import { texts } from './texts'

const HEIGHT = 80
const FLOOR = 58
const TALLEST = 40
const MARGIN = 14
/** So high is the number of an entry. */
const NUMBER = 20

const says = texts.tape

type Place = TapeLayout['places'][number]

interface Props {
  tape: Ticks
  onEntry: (number: number) => void
  /** Left out where nothing can be edited any more. */
  onEdit?: ((edit: Edit) => void) | undefined
}

function when(tick: number): string {
  return momentWithSeconds(new Date(tick * 1000).toISOString())
}

/** All of an entry's bars in one path: an edit draws two of them anew instead of hundreds. */
function bars(layout: TapeLayout, entry: number): string {
  return layout.bars
    .filter((bar) => bar.entry === entry)
    .map((bar) => {
      const tall = 4 + (TALLEST - 4) * Math.sqrt(bar.count / layout.most)
      return `M${bar.x} ${FLOOR}v${-tall}h2.6v${tall}z`
    })
    .join('')
}

/**
 * The tape: the frames over time with their brightness as a thin line, long pauses folded, a mark where each entry
 * begins. A click on it begins a new entry there, a mark can be dragged, and joined with the entry before.
 */
export const Tape = memo(function Tape({ tape, onEntry, onEdit }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(1200)
  const [ghost, setGhost] = useState<Place | null>(null)
  const [held, setHeld] = useState<number | null>(null)
  useLayoutEffect(() => {
    const element = box.current
    if (!element) return
    const watch = new ResizeObserver(() => {
      setWidth(element.clientWidth)
    })
    watch.observe(element)
    return () => {
      watch.disconnect()
    }
  }, [])
  const layout = useMemo(() => layOut(tape, width - 2 * MARGIN), [tape, width])
  /** Whether its number would not fit to the right of where an entry begins. */
  const isAtEnd = (x: number) => x > width - 2 * MARGIN - 20
  const total = tape.reduce((sum, entry) => sum + entry.frames.length, 0)

  /** The frame at or behind a point of the tape. */
  const placeAt = (clientX: number): Place | null => {
    const x = clientX - (box.current?.getBoundingClientRect().left ?? 0) + (box.current?.scrollLeft ?? 0) - MARGIN
    let low = 0
    let high = layout.places.length
    while (low < high) {
      const middle = (low + high) >> 1
      if ((layout.places[middle]?.x ?? 0) < x - 2) low = middle + 1
      else high = middle
    }
    return layout.places[low] ?? layout.places.at(-1) ?? null
  }
  const firstOf = (number: number) => tape.find((entry) => entry.number === number)?.frames[0]
  const startsEntry = (place: Place) => firstOf(place.entry) === place.id
  const join = (number: number) => {
    const frame = firstOf(number)
    if (number > 1 && frame !== undefined) onEdit?.({ do: 'join', frame })
  }
  const drop = (number: number, place: Place) => {
    const edit = moveBreak(tape, number, place.id)
    if (edit) onEdit?.(edit)
  }
  const nudge = (number: number, event: KeyboardEvent) => {
    if (!onEdit) return
    const first = layout.places.findIndex((place) => place.id === firstOf(number))
    const by = (step: number) => () => {
      const to = layout.places[first + step]
      if (to) drop(number, to)
    }
    const joined = () => {
      join(number)
    }
    // the mark is a button itself, and needs no key of these
    act('tape', event, { earlier: by(-1), later: by(1), join: joined })
  }
  return (
    <div
      ref={box}
      className={classes(
        'relative overflow-x-auto overflow-y-hidden border border-rule bg-leaf select-none [scrollbar-width:none]',
        onEdit && 'cursor-crosshair',
      )}
      style={{ height: HEIGHT }}
      onPointerMove={(event: PointerEvent) => {
        if (onEdit) setGhost(placeAt(event.clientX))
      }}
      onPointerLeave={() => {
        if (held === null) setGhost(null)
      }}
      onClick={(event) => {
        const place = placeAt(event.clientX)
        if (onEdit && place && !startsEntry(place)) onEdit({ do: 'split', frame: place.id })
      }}
    >
      <svg width={width} height={HEIGHT} role="img" aria-label={says.label(total, tape.length)} className="block">
        <g transform={`translate(${MARGIN} 0)`}>
          {tape.map(({ number }) => (
            <path key={number} d={bars(layout, number)} className={number % 2 === 1 ? 'fill-velvet' : 'fill-soft'} />
          ))}
          {layout.light.map((points, i) => (
            <polyline
              key={i}
              points={points.map((point) => `${point.x + 1} ${FLOOR - 4 - point.y * (FLOOR - 12)}`).join(' ')}
              fill="none"
              strokeWidth={1.4}
              className="stroke-brass"
            />
          ))}
          {layout.folds.map((x) => (
            <path
              key={x}
              d={`M${x} 6 l4 7 l-8 7 l8 7 l-8 7 l8 7 l-8 7 l4 7`}
              fill="none"
              className="stroke-rule-strong"
            />
          ))}
          {layout.stretches.map((stretch, i) =>
            stretch.width > 74 || i === 0 ? (
              <text key={stretch.x} x={stretch.x} y={HEIGHT - 7} className="fill-soft text-[12px]">
                {moment(new Date(stretch.from * 1000).toISOString())}
              </text>
            ) : null,
          )}
          <line x1={0} x2={width - 2 * MARGIN} y1={FLOOR + 0.5} y2={FLOOR + 0.5} className="stroke-rule" />
          {ghost && (
            <line
              x1={ghost.x - 1.5}
              x2={ghost.x - 1.5}
              y1={2}
              y2={FLOOR}
              strokeDasharray="3 3"
              className="stroke-ink"
            />
          )}
        </g>
      </svg>
      {ghost && (
        <span
          className={classes(
            'pointer-events-none absolute bottom-1 z-10 bg-leaf px-1',
            'text-[12px] font-semibold whitespace-nowrap',
          )}
          style={ghost.x > width - 260 ? { right: width - MARGIN - ghost.x } : { left: MARGIN + ghost.x }}
        >
          {held !== null
            ? says.begins(held, when(ghost.tick))
            : startsEntry(ghost)
              ? when(ghost.tick)
              : says.begin(when(ghost.tick))}
        </span>
      )}
      {layout.marks.map((mark) => (
        <div
          key={mark.number}
          className={classes(
            'group absolute flex focus-within:z-20 hover:z-20',
            isAtEnd(mark.x) && '-translate-x-full flex-row-reverse',
          )}
          style={{ left: MARGIN + mark.x - 3, top: mark.shown ? 0 : NUMBER, bottom: HEIGHT - FLOOR }}
          onClick={(event) => {
            event.stopPropagation()
          }}
        >
          <button
            type="button"
            aria-label={onEdit && mark.number > 1 ? says.move(mark.number) : says.to(mark.number)}
            className={classes(
              'flex h-full items-start border-velvet-ground',
              isAtEnd(mark.x) ? 'border-r-2' : 'border-l-2',
              mark.shown ? 'min-w-6' : 'min-w-2',
              onEdit && mark.number > 1 && 'cursor-ew-resize',
            )}
            onClick={() => {
              if (held === null) onEntry(mark.number)
            }}
            onKeyDown={(event) => {
              nudge(mark.number, event)
            }}
            onPointerDown={(event) => {
              if (onEdit && mark.number > 1) event.currentTarget.setPointerCapture(event.pointerId)
            }}
            onPointerMove={(event) => {
              if (
                onEdit &&
                event.currentTarget.hasPointerCapture(event.pointerId) &&
                (held !== null || Math.abs(event.movementX) > 0)
              ) {
                setHeld(mark.number)
                setGhost(placeAt(event.clientX))
              }
            }}
            onPointerUp={(event) => {
              if (held === null) return
              const place = placeAt(event.clientX)
              if (place) drop(mark.number, place)
              window.setTimeout(() => {
                setHeld(null)
                setGhost(null)
              })
            }}
          >
            <span
              className={classes(
                'min-w-6 bg-velvet-ground px-1.5 text-center text-[12px] leading-[20px]',
                'font-semibold text-on-velvet',
                !mark.shown && 'hidden group-focus-within:block group-hover:block',
              )}
            >
              {mark.number}
            </span>
          </button>
          {onEdit && mark.number > 1 && (
            <Tip says={says.joinTip(mark.number)}>
              <button
                type="button"
                tabIndex={-1}
                aria-label={says.joinLabel(mark.number)}
                className={classes(
                  'h-6 min-w-6 border border-velvet-ground bg-leaf px-1.5 text-[12px] font-semibold',
                  'opacity-0 group-hover:opacity-100 focus-visible:opacity-100',
                  !mark.shown && 'hidden group-hover:block',
                )}
                onClick={() => {
                  join(mark.number)
                }}
              >
                {says.join}
              </button>
            </Tip>
          )}
        </div>
      ))}
    </div>
  )
})
