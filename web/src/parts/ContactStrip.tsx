import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useId, useRef, type KeyboardEvent } from 'react'
import type { FrameWindow } from '../api/frames'
import { act } from '../keys/keys'
import { classes } from './classes'
import { useInView } from './useInView'
import { describe, FrameOnMat, HEIGHT, widthOf, type Seen } from './Frame'

interface Props {
  frames: FrameWindow<Seen>
  label: string
  current: number
  onCurrent: (position: number) => void
  onLook: (position: number) => void
  onOpen: () => void
  arriving?: boolean
  /** Of the frames, in pixels. */
  height?: number
  /** Frames that something is said of now; the first of them is brought into sight. */
  marked?: ReadonlySet<number>
}

/** A contact strip that scrolls sideways. Only what is in view exists; arrows move, space looks closer, Enter opens. */
export function ContactStrip({
  frames,
  label,
  current,
  onCurrent,
  onLook,
  onOpen,
  arriving = false,
  height = HEIGHT,
  marked,
}: Props) {
  const box = useRef<HTMLDivElement>(null)
  const id = useId()
  const optionId = (position: number) => `${id}${position}`
  const rail = useVirtualizer({
    count: frames.count,
    horizontal: true,
    getScrollElement: () => box.current,
    estimateSize: (index) => widthOf(frames.at(index), height) + 6,
    overscan: 6,
  })
  const items = useInView(rail, frames)
  const firstMarked = marked?.values().next().value
  useEffect(() => {
    if (firstMarked !== undefined) rail.scrollToIndex(firstMarked, { align: 'center' })
    // once for each set of marks
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [firstMarked])

  const go = (to: number) => {
    const position = Math.max(0, Math.min(frames.count - 1, to))
    onCurrent(position)
    rail.scrollToIndex(position)
  }
  const press = (event: KeyboardEvent) => {
    const by = (step: number) => () => {
      go(current + step)
    }
    act('frames', event, {
      left: by(-1),
      right: by(1),
      first: by(-current),
      last: by(frames.count - 1 - current),
      look: () => {
        onLook(current)
      },
      open: onOpen,
    })
  }
  const [first, last] = [items[0]?.index ?? 0, items.at(-1)?.index ?? -1]
  return (
    <div
      ref={box}
      role="listbox"
      aria-label={label}
      aria-orientation="horizontal"
      aria-activedescendant={current >= first && current <= last ? optionId(current) : undefined}
      tabIndex={0}
      onKeyDown={press}
      className="frames mat overflow-x-auto overflow-y-hidden [scrollbar-width:thin]"
      style={{ height: height + 17 }}
    >
      <div className="relative" style={{ width: rail.getTotalSize() + 6, height: height + 12 }}>
        {items.map((item) => {
          const frame = frames.at(item.index)
          return (
            <div
              key={item.key}
              role="option"
              aria-selected={item.index === current}
              aria-label={describe(frame)}
              title={describe(frame)}
              id={optionId(item.index)}
              aria-setsize={frames.count}
              aria-posinset={item.index + 1}
              className={classes('absolute top-1.5 left-1.5 cursor-pointer', item.index === current && 'current')}
              style={{ transform: `translateX(${item.start}px)` }}
              onClick={() => {
                onCurrent(item.index)
              }}
              onDoubleClick={() => {
                onLook(item.index)
              }}
            >
              <FrameOnMat frame={frame} height={height} arriving={arriving} marked={marked?.has(item.index) ?? false} />
            </div>
          )
        })}
      </div>
    </div>
  )
}
