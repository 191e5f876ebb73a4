import type { Entry } from '../../api/client'
import { texts } from './texts'

const says = texts.entry

/** What became of an entry while it is copied, and in the end. */
export function Outcome({ entry }: { entry: Entry }) {
  const { counts, progress } = entry
  const passed = [
    [counts.filed, says.passed.filed],
    [counts.twice, says.passed.twice],
    [counts.unreadable, says.passed.unreadable],
  ] as const
  return (
    <div className="min-w-0 text-[13px] leading-[1.45]">
      {progress && progress.files > 0 && progress.files === progress.files_done && (
        <div className="font-semibold text-verdigris">{says.verified}</div>
      )}
      {progress && progress.failed > 0 && (
        <div className="font-semibold text-brass">{says.failed(progress.failed)}</div>
      )}
      {passed.map(([count, words]) =>
        count > 0 ? (
          <div key={words} className="text-soft">
            {says.passedFrames(count, words)}
          </div>
        ) : null,
      )}
    </div>
  )
}
