import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useId, useLayoutEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import type { FrameWindow } from '../api/frames'
import { BeneathChoice, useBeneath } from './beneath'
import { act, type Pressed } from '../keys/keys'
import { classes } from './classes'
import { LARGEST, SMALLEST, useContactSize } from './contact-size'
import { describe, FrameOnMat, type Seen } from './Frame'
import { TabMarks } from './TabMarks'
import { useRectangle } from './useRectangle'

/** Around a picture and what stands beneath it, in pixels. */
const PAD = 9
const LINE = 16
/** Widths of a letter of a name, and of a fact. */
const NAME_LETTER = 7.6
const FACT_LETTER = 6.3

/** The end of a long name, where its counter stands; the whole is in the frame's description. */
function tail(name: string, most: number): string {
  const letters = Array.from(name)
  return letters.length > most ? `…${letters.slice(1 - most).join('')}` : name
}

export interface Selecting {
  has: (position: number) => boolean
  press: (position: number, way: 'only' | 'range' | 'add') => void
  set: (positions: number[], add: boolean) => void
  /** What other keys do. */
  onKey?: (event: KeyboardEvent, position: number) => void
}

interface Props {
  frames: FrameWindow<Seen>
  label: string
  current: number
  onCurrent: (position: number) => void
  onLook: (position: number) => void
  onClose?: () => void
  arriving?: boolean
  marked?: ReadonlySet<number>
  /** Where frames can be selected: which are, and how the hand says so. */
  selecting?: Selecting | undefined
  /** What else stands above the frames. */
  tools?: ReactNode
  /** What stands there in place of all of it. */
  instead?: ReactNode
  /** The tallest the sheet may grow, as a CSS length. */
  tallest?: string
}

/** All frames at once, on the mat, in rows that exist only while they are in view. */
export function ContactSheet({
  frames,
  label,
  current,
  onCurrent,
  onLook,
  onClose,
  arriving = false,
  marked,
  selecting,
  tools,
  instead,
  tallest = '58vh',
}: Props) {
  const box = useRef<HTMLDivElement>(null)
  const id = useId()
  const optionId = (position: number) => `${id}${position}`
  const [size, setSize] = useContactSize()
  const [width, setWidth] = useState(1000)
  const columns = Math.max(1, Math.floor(width / (Math.round(size * 1.5) + 2 * PAD)))
  const beneath = useBeneath(Math.floor((width / columns - 2 * PAD) / FACT_LETTER))
  useLayoutEffect(() => {
    const element = box.current
    if (!element) return
    const watch = new ResizeObserver(() => {
      setWidth(element.clientWidth - 16)
    })
    watch.observe(element)
    return () => {
      watch.disconnect()
    }
  }, [])
  const height = PAD + size + 4 + LINE * (1 + beneath.lines) + PAD
  const rows = useVirtualizer({
    count: Math.ceil(frames.count / columns),
    getScrollElement: () => box.current,
    estimateSize: () => height,
    overscan: 2,
  })
  useEffect(() => {
    rows.measure()
  }, [rows, height])
  const items = rows.getVirtualItems()
  const first = (items[0]?.index ?? 0) * columns
  const last = Math.min(frames.count - 1, ((items.at(-1)?.index ?? 0) + 1) * columns - 1)
  const { want } = frames
  useEffect(() => {
    want(first, Math.max(first, last))
  }, [want, first, last])

  const frame = useRectangle(box, { columns, cell: width / columns, height, count: frames.count }, selecting)
  /** Rows are of one height: asked to scroll to one, the virtualizer would measure the whole page, some frames long. */
  const reveal = (row: number) => {
    if (!box.current) return
    const { scrollTop: from, clientHeight: tall } = box.current
    if (row * height < from) box.current.scrollTop = row * height
    else if ((row + 1) * height > from + tall) box.current.scrollTop = (row + 1) * height - tall
  }
  const go = (to: number, extend: boolean) => {
    const position = Math.max(0, Math.min(frames.count - 1, to))
    onCurrent(position)
    selecting?.press(position, extend ? 'range' : 'only')
    reveal(Math.floor(position / columns))
  }
  const press = (event: KeyboardEvent) => {
    const by = (step: number) => (pressed: Pressed) => {
      go(current + step, pressed.shiftKey)
    }
    const look = () => {
      onLook(current)
    }
    const done = act('frames', event, {
      left: by(-1),
      right: by(1),
      up: by(-columns),
      down: by(columns),
      first: by(-current),
      last: by(frames.count - 1 - current),
      look,
      open: look,
      all:
        selecting &&
        (() => {
          selecting.set([...Array(frames.count).keys()], false)
        }),
      close: onClose,
    })
    if (!done) selecting?.onKey?.(event, current)
  }
  const firstMarked = marked?.values().next().value
  useEffect(() => {
    if (firstMarked !== undefined) rows.scrollToIndex(Math.floor(firstMarked / columns), { align: 'center' })
    // scrolls once for each set of marks, not again when the page is resized
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [firstMarked])

  return (
    <>
      <div className="mb-1.5 flex min-h-[34px] flex-wrap items-center gap-x-6 gap-y-1">
        {tools}
        {instead ?? (
          <>
            <BeneathChoice />
            <label className="ml-auto flex items-center gap-2 text-[13px] text-soft">
              Size of pictures
              <input
                type="range"
                min={SMALLEST}
                max={LARGEST}
                step={8}
                value={size}
                onChange={(event) => {
                  setSize(Number(event.target.value))
                }}
                className="h-6 w-32"
              />
            </label>
          </>
        )}
      </div>
      <div
        ref={box}
        role="listbox"
        aria-label={label}
        aria-multiselectable={selecting !== undefined}
        aria-activedescendant={current >= first && current <= last ? optionId(current) : undefined}
        tabIndex={0}
        onKeyDown={press}
        {...frame.hands}
        className={classes('frames mat relative overflow-y-auto px-2 text-on-mat', selecting && 'select-none')}
        style={{ maxHeight: tallest }}
      >
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {frame.rectangle && (
            <div
              className="pointer-events-none absolute z-10 border border-on-mat bg-white/20"
              style={frame.rectangle}
            />
          )}
          {items.map((row) => (
            <div
              key={row.key}
              role="presentation"
              className="absolute inset-x-0 flex"
              style={{ transform: `translateY(${row.start}px)`, height }}
            >
              {Array.from({ length: Math.min(columns, frames.count - row.index * columns) }, (_, column) => {
                const position = row.index * columns + column
                const shown = frames.at(position)
                const tabs = shown?.tabs ?? []
                return (
                  <div
                    key={position}
                    role="option"
                    aria-selected={selecting ? selecting.has(position) : position === current}
                    aria-label={describe(shown)}
                    title={shown?.problems.join(' ') ?? ''}
                    id={optionId(position)}
                    aria-setsize={frames.count}
                    aria-posinset={position + 1}
                    className={classes(
                      'relative flex cursor-pointer flex-col items-center',
                      position === current && 'proof current',
                    )}
                    style={{ width: width / columns, paddingTop: PAD }}
                    onClick={(event) => {
                      onCurrent(position)
                      selecting?.press(
                        position,
                        event.shiftKey ? 'range' : event.ctrlKey || event.metaKey ? 'add' : 'only',
                      )
                    }}
                    onDoubleClick={() => {
                      onLook(position)
                    }}
                  >
                    <FrameOnMat
                      frame={shown}
                      height={size}
                      arriving={arriving}
                      marked={(marked?.has(position) ?? false) || (selecting?.has(position) ?? false)}
                    />
                    <span className="mt-1 w-full truncate px-1.5 text-center text-[12px] leading-4">
                      {shown
                        ? tail(shown.name, Math.floor((width / columns - 12) / NAME_LETTER) - 2 * tabs.length)
                        : ''}
                      <TabMarks tabs={tabs} />
                    </span>
                    <span
                      className="w-full overflow-hidden px-1.5 text-center text-[11.5px] leading-4"
                      style={{ height: LINE * beneath.lines }}
                    >
                      {shown ? beneath.say(shown.facts) : ''}
                    </span>
                  </div>
                )
              })}
            </div>
          ))}
        </div>
      </div>
    </>
  )
}
