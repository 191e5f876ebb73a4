import { useEffect } from 'react'
import type { FrameWindow } from '../../api/frames'
import { FrameOnMat, type Seen } from '../../parts/Frame'

/** More than fit beside each other at the widest. */
const SHOWN = 16

/** The first frames of an entry that is not in hand: to be recognised by, not to be worked with. */
export function FoldedStrip({
  frames,
  height,
  arriving,
}: {
  frames: FrameWindow<Seen>
  height: number
  arriving: boolean
}) {
  const { want } = frames
  const count = Math.min(SHOWN, frames.count)
  useEffect(() => {
    want(0, count - 1)
  }, [want, count])
  return (
    <div aria-hidden="true" className="mat flex gap-1 overflow-hidden p-1" style={{ height: height + 8 }}>
      {Array.from({ length: count }, (_, position) => (
        <span key={position} className="shrink-0">
          <FrameOnMat frame={frames.at(position)} height={height} arriving={arriving} silent />
        </span>
      ))}
    </div>
  )
}
