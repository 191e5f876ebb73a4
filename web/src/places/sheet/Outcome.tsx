import type { Entry } from '../../api/client'
import { plural } from '../../parts/words'

/** What became of an entry while it is copied, and in the end. */
export function Outcome({ entry }: { entry: Entry }) {
  const { counts, progress } = entry
  const passed = [
    [counts.filed, 'already filed, skipped'],
    [counts.twice, 'here twice, copied once'],
    [counts.unreadable, 'could not be read'],
  ] as const
  return (
    <div className="min-w-0 text-[13px] leading-[1.45]">
      {progress && progress.files > 0 && progress.files === progress.files_done && (
        <div className="font-semibold text-verdigris">✓ Verified in every place</div>
      )}
      {progress && progress.failed > 0 && (
        <div className="font-semibold text-brass">{plural(progress.failed, 'file')} failed; see above</div>
      )}
      {passed.map(([count, words]) =>
        count > 0 ? (
          <div key={words} className="text-soft">
            {plural(count, 'frame')} {words}.
          </div>
        ) : null,
      )}
    </div>
  )
}
