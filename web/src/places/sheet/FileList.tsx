import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { api, type Entry, type SheetFrame } from '../../api/client'
import { useFrameWindow } from '../../api/frames'
import { classes } from '../../parts/classes'
import { useInView } from '../../parts/useInView'
import { texts } from './texts'

const LINE = 22
const PAD = 14
const ROW = 'grid grid-cols-[64px_2fr_3fr_330px_76px] gap-4 border-b border-rule px-4 py-1.5 text-[12.5px]'

/** Every frame of an entry as the receipt has it: from where, to where, with which checksum. */
export function FileList({ sheet, entry }: { sheet: number; entry: Entry }) {
  const frames = useFrameWindow<SheetFrame>(['frames', 'sheet', sheet, entry.number], entry.frames, (offset, limit) =>
    api.sheetFrames(sheet, entry.number, offset, limit),
  )
  const box = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: frames.count,
    getScrollElement: () => box.current,
    estimateSize: (index) => Math.max(1, frames.at(index)?.from.length ?? 1) * LINE + PAD,
    overscan: 10,
  })
  const items = useInView(rows, frames)
  return (
    <div
      ref={box}
      className="mt-3 max-h-[52vh] overflow-y-auto border border-rule bg-leaf"
      tabIndex={0}
      role="region"
      aria-label={texts.files.label(entry.number)}
    >
      <div className={classes(ROW, 'sticky top-0 z-10 bg-leaf text-soft')}>
        {texts.files.head.map((word, i) => (
          <span key={word} className={i === 0 ? 'text-right' : undefined}>
            {word}
          </span>
        ))}
      </div>
      <div className="relative" style={{ height: rows.getTotalSize() }}>
        {items.map((item) => {
          const frame = frames.at(item.index)
          return (
            <div
              key={item.key}
              ref={rows.measureElement}
              data-index={item.index}
              className={classes(ROW, 'absolute inset-x-0 leading-[22px]')}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <span className="text-right text-soft">{item.index + 1}</span>
              <span className="min-w-0">
                {frame?.from.map((path) => (
                  <span key={path} className="block truncate" title={path}>
                    {path}
                  </span>
                ))}
              </span>
              <span className="min-w-0">
                {frame?.to.map((path) => (
                  <span key={path} className="block truncate" title={path}>
                    {path.split('/').at(-1)}
                  </span>
                ))}
                {frame?.same_as.map((path) => (
                  <span key={path} className="block truncate text-soft" title={path}>
                    {texts.files.sameAs(path)}
                  </span>
                ))}
                {frame?.problems.map((problem) => (
                  <span key={problem} className="block text-brass">
                    {problem}
                  </span>
                ))}
              </span>
              <span className="min-w-0 font-mono text-[11.5px]">
                {frame?.digests?.map((digest, i) => (
                  <span key={i} className="block truncate">
                    {digest ?? ''}
                  </span>
                ))}
              </span>
              <span
                className={
                  frame?.state === 'copied'
                    ? 'text-verdigris'
                    : frame?.state === 'failed'
                      ? 'font-semibold text-brass'
                      : 'text-soft'
                }
              >
                {frame ? texts.files.states[frame.state] : ''}
              </span>
            </div>
          )
        })}
      </div>
    </div>
  )
}
