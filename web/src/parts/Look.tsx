import { useEffect, useRef, type ReactNode } from 'react'
import type { FrameWindow } from '../api/frames'
import { act } from '../keys/keys'
import { fetchAhead, fetchFor } from '../stage/ahead'
import { OnStage } from '../stage/OnStage'
import { describe, type Seen } from './Frame'
import { Back, Over } from './Over'
import { bias, camera, exposure, fromMakerNote, lens, playing, shots, size, stars } from './fact-words'
import { momentWithSeconds } from './words'
import { Tip } from './Tip'

/** The pictures next door are fetched as large as they will be shown, middling ones further out. */
const [NEXT, FURTHER] = [
  [1, -1],
  [2, -2, 3],
]

interface Props {
  frames: FrameWindow<Seen>
  position: number
  onMove: (position: number) => void
  onClose: () => void
  /** What else can be told of the frame, beneath its facts. */
  more?: (position: number) => ReactNode
}

/** The closer look: one big frame on the neutral mat, its facts beneath; arrows move, space or Escape goes back. */
export function Look({ frames, position, onMove, onClose, more }: Props) {
  const { want, count } = frames
  useEffect(() => {
    want(Math.max(0, position - 3), Math.min(count - 1, position + 3))
  }, [want, count, position])
  const frame = frames.at(position)
  const stage = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const fetch = (by: number, how: (picture: string) => Promise<void>) => {
      const picture = frames.at(position + by)?.picture
      if (picture) how(picture).catch(() => undefined)
    }
    for (const by of NEXT) fetch(by, (picture) => fetchFor(picture, stage.current?.querySelector('img') ?? null))
    for (const by of FURTHER) fetch(by, (picture) => fetchAhead(1024, picture))
  })
  const move = (by: number) => {
    onMove(Math.max(0, Math.min(count - 1, position + by)))
  }
  return (
    <Over
      title={describe(frame)}
      className="mat fixed inset-0 z-50 flex flex-col text-on-mat outline-none"
      onClose={onClose}
      onKeyDown={(event) => {
        act('look', event, {
          previous: () => {
            move(-1)
          },
          next: () => {
            move(1)
          },
          first: () => {
            onMove(0)
          },
          last: () => {
            onMove(count - 1)
          },
          back: onClose,
        })
      }}
    >
      <div ref={stage} className="relative min-h-0 flex-1 p-5 pb-2">
        {frame && (
          <OnStage key={frame.picture ?? frame.name} name={frame.name} picture={frame.picture} kinds={frame.kinds} />
        )}
      </div>
      <div className="bg-[#2b2b2b] text-[#f2f2f2]">
        <div className="page flex min-h-[68px] flex-wrap items-center gap-x-8 gap-y-1 py-2.5">
          <div>
            <div className="serif text-[18px]">{frame?.name ?? '…'}</div>
            <div className="text-[12.5px] text-[#d0d0d0]">
              {frame &&
                [frame.facts.captured_at ? momentWithSeconds(frame.facts.captured_at) : 'no date', frame.kinds]
                  .filter(Boolean)
                  .join(' · ')}
            </div>
          </div>
          {frame && <FactsLine frame={frame} />}
          <div className="ml-auto flex items-center gap-4">
            <span className="text-[13px] whitespace-nowrap">
              {position + 1} of {count.toLocaleString('en')}
            </span>
            <Back />
          </div>
        </div>
        {frame && (frame.problems.length > 0 || frame.lines.length > 0) && (
          <div className="page border-t border-[#484848] py-2 text-[12.5px] text-[#e2e2e2]">
            {[...frame.problems, ...frame.lines].map((line) => (
              <div key={line} className="wrap-anywhere">
                {line}
              </div>
            ))}
            {more?.(position)}
          </div>
        )}
      </div>
    </Over>
  )
}

function FactsLine({ frame }: { frame: Seen }) {
  const { facts } = frame
  const plays = playing(facts)
  if (plays !== null) {
    return (
      <div className="text-[13px]">
        <div>{plays}</div>
        <div className="text-[12.5px] text-[#d0d0d0]">{size(facts)}</div>
      </div>
    )
  }
  const shot = exposure(facts)
  const stops = bias(facts)
  const noted = fromMakerNote(facts)
  return (
    <div className="text-[13px]">
      <div>
        {[
          shot.length > 0 ? shot.join(' · ') : 'exposure unknown',
          stops?.startsWith('±') ? null : stops,
          (frame.stars ?? facts.rating ?? 0) > 0 ? stars(frame.stars ?? facts.rating ?? 0) : null,
        ]
          .filter(Boolean)
          .join(' · ')}
      </div>
      <Tip says={noted}>
        <div className="text-[12.5px] text-[#d0d0d0]" tabIndex={noted === null ? undefined : 0}>
          {[
            camera(facts) ?? 'camera unknown',
            lens(facts) ?? 'lens unknown',
            size(facts) ?? 'size unknown',
            shots(facts),
          ]
            .filter(Boolean)
            .join(' · ')}
        </div>
      </Tip>
    </div>
  )
}
