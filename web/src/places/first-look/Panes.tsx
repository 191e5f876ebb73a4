import type { PassFrame } from '../../api/client'
import type { Place } from '../../model/closer'
import { starsOf } from '../../model/pass'
import { classes } from '../../parts/classes'
import type { Seen } from '../../parts/Frame'
import { Stroke } from '../../parts/Stroke'
import { plural } from '../../parts/words'
import { OnStage } from '../../stage/OnStage'
import { ClippedAreas } from './LightPanel'
import { texts } from './texts'

interface Props {
  frames: readonly PassFrame[]
  /** Positions of those that are shown. */
  shown: readonly number[]
  /** The one at hand. */
  position: number
  facts: (position: number) => Seen | undefined
  closer: Place | null
  onCloser: (place: Place | null) => void
  onHand: (position: number) => void
  /** Clipped areas of the one at hand, where they are asked for. */
  lines: ImageData | null
}

/** One frame, or up to four beside each other that are moved and enlarged as one; verdicts are for the one at hand. */
export function Panes({ frames, shown, position, facts, closer, onCloser, onHand, lines }: Props) {
  const several = shown.length > 1
  return (
    <div className={classes('grid h-full', GRIDS[shown.length])}>
      {shown.map((at) => {
        const frame = frames[at]
        const seen = facts(at)
        const isAtHand = at === position
        return (
          frame && (
            <div key={frame.id} className="flex min-h-0 min-w-0 flex-col">
              <div
                className={classes('relative min-h-0 flex-1 p-3', several && isAtHand && 'proof')}
                onPointerDownCapture={() => {
                  onHand(at)
                }}
              >
                <OnStage
                  name={seen?.name ?? `Frame ${at + 1}`}
                  picture={frame.picture}
                  kinds={seen?.kinds ?? ''}
                  closer={closer}
                  onCloser={onCloser}
                />
                {isAtHand && closer === null && lines && <ClippedAreas lines={lines} />}
                {several && frame.verdict === 'struck' && closer === null && <Stroke />}
              </div>
              {several && (
                <button
                  type="button"
                  aria-pressed={isAtHand}
                  className={classes('min-h-6 px-3 text-left text-[13px]', isAtHand && 'font-bold')}
                  onClick={() => {
                    onHand(at)
                  }}
                >
                  {at + 1} · {frame.verdict === 'kept' && '✓ '}
                  {frame.verdict}
                  {starsOf(frame) > 0 && ` · ${plural(starsOf(frame), 'star')}`}
                  {isAtHand && <span className="sr-only"> {texts.atHand}</span>}
                </button>
              )}
            </div>
          )
        )
      })}
    </div>
  )
}

const GRIDS: Partial<Record<number, string>> = {
  2: 'grid-cols-2 max-md:grid-cols-1',
  3: 'grid-cols-3 max-md:grid-cols-1',
  4: 'grid-cols-2 grid-rows-2',
}
