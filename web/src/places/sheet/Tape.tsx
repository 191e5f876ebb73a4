import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import type { Tape as Ticks } from '../../api/client'
import { moment } from '../../parts/words'
import { layOut } from './tape-layout'

const HEIGHT = 96
const FLOOR = 70
const TALLEST = 50
const MARGIN = 14

/** The tape: the frames over time with their brightness as a thin line, long pauses folded, a mark where each entry begins. A mark leads to its entry. */
export function Tape({ tape, onEntry }: { tape: Ticks; onEntry: (number: number) => void }) {
  const box = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(1200)
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
  const total = tape.reduce((sum, entry) => sum + entry.ticks.length, 0)
  return (
    <div ref={box} className="relative border border-rule bg-leaf" style={{ height: HEIGHT }}>
      <svg width={width} height={HEIGHT} role="img" aria-label={`${total} frames over time, in ${tape.length} entries`} className="block">
        <g transform={`translate(${MARGIN} 0)`}>
          {layout.bars.map((bar) => {
            const tall = 4 + (TALLEST - 4) * Math.sqrt(bar.count / layout.most)
            return <rect key={`${bar.x} ${bar.entry}`} x={bar.x} y={FLOOR - tall} width={2.6} height={tall} className={bar.entry % 2 === 1 ? 'fill-velvet' : 'fill-soft'} />
          })}
          {layout.light.map((points, i) => (
            <polyline key={i} points={points.map((point) => `${point.x + 1} ${FLOOR - 4 - point.y * (FLOOR - 12)}`).join(' ')} fill="none" strokeWidth={1.4} className="stroke-brass" />
          ))}
          {layout.folds.map((x) => (
            <path key={x} d={`M${x} 14 l4 7 l-8 7 l8 7 l-8 7 l8 7 l-8 7 l4 7`} fill="none" className="stroke-rule-strong" />
          ))}
          {layout.stretches.map((stretch, i) =>
            stretch.width > 74 || i === 0 ? (
              <text key={stretch.x} x={stretch.x} y={HEIGHT - 10} className="fill-soft text-[12px]">
                {moment(new Date(stretch.from * 1000).toISOString())}
              </text>
            ) : null,
          )}
          <line x1={0} x2={width - 2 * MARGIN} y1={FLOOR + 0.5} y2={FLOOR + 0.5} className="stroke-rule" />
        </g>
      </svg>
      {layout.marks.map((mark) => (
        <button
          key={mark.number}
          type="button"
          onClick={() => {
            onEntry(mark.number)
          }}
          aria-label={`To entry ${mark.number}`}
          className="absolute top-0 flex h-[70px] min-w-6 items-start border-l-2 border-velvet-ground"
          style={{ left: MARGIN + mark.x - 3 }}
        >
          <span className="min-w-6 bg-velvet-ground px-1.5 text-center text-[12px] leading-[20px] font-semibold text-on-velvet">{mark.number}</span>
        </button>
      ))}
    </div>
  )
}
