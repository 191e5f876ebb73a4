import type { PassFrame } from '../../api/client'
import { pictureUrl } from '../../api/client'
import type { Tab } from '../../api/tabs'
import { Stroke } from '../../parts/Stroke'
import { TabMarks, tabsOf } from '../../parts/TabMarks'

/** The frames before and after, small at the sides where there is room for them. */
export function Neighbours({
  frames,
  tabs,
  before,
  after,
  onGo,
}: {
  frames: readonly PassFrame[]
  tabs: readonly Tab[]
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
                        className="absolute inset-0 size-full object-contain"
                      />
                    )}
                    {frame.verdict === 'struck' && <Stroke />}
                  </span>
                  <span aria-hidden="true">
                    {frame.verdict === 'kept' && '✓ '}
                    {frame.verdict}
                  </span>
                  <TabMarks tabs={tabsOf(tabs, frame.tabs)} />
                </button>
              )
            )
          })}
        </div>
      ))}
    </>
  )
}
