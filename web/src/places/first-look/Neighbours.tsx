import type { PassFrame } from '../../api/client'
import { pictureUrl } from '../../api/client'

/** The frames before and after, small at the sides where there is room for them. */
export function Neighbours({
  frames,
  before,
  after,
  onGo,
}: {
  frames: readonly PassFrame[]
  before: readonly number[]
  after: readonly number[]
  onGo: (position: number) => void
}) {
  return (
    <>
      {[
        { side: 'left-6', positions: before },
        { side: 'right-6', positions: after },
      ].map(({ side, positions }) => (
        <div key={side} className={`absolute inset-y-0 z-10 hidden flex-col justify-center gap-3.5 xl:flex ${side}`}>
          {positions.map((position) => {
            const frame = frames[position]
            return (
              frame && (
                <button
                  key={frame.id}
                  type="button"
                  tabIndex={-1}
                  className="block text-left text-[12.5px]"
                  aria-label={`Frame ${position + 1}, ${frame.verdict}`}
                  onClick={() => {
                    onGo(position)
                  }}
                >
                  <span className="relative grid h-[117px] w-[176px] place-items-center bg-mat-deep">
                    {frame.picture === null ? (
                      'no picture'
                    ) : (
                      <img
                        src={pictureUrl(320, frame.picture)}
                        alt=""
                        draggable={false}
                        className="size-full object-contain"
                      />
                    )}
                    {frame.verdict === 'struck' && <Stroke />}
                  </span>
                  <span aria-hidden="true">
                    {frame.verdict === 'kept' && '✓ '}
                    {frame.verdict}
                  </span>
                </button>
              )
            )
          })}
        </div>
      ))}
    </>
  )
}

/** A thin line through a frame that is struck, as in a book. */
export function Stroke() {
  return (
    <svg
      className="pointer-events-none absolute inset-0 size-full"
      viewBox="0 0 100 100"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <line
        x1="1"
        y1="99"
        x2="99"
        y2="1"
        stroke="#000"
        strokeOpacity="0.45"
        strokeWidth="3.5"
        vectorEffect="non-scaling-stroke"
      />
      <line x1="1" y1="99" x2="99" y2="1" stroke="#fff" strokeWidth="1.6" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}
