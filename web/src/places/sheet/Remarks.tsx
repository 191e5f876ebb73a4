import { memo } from 'react'
import { texts } from './texts'
/** What is to be said of filed files, each by its name; of very many only the first stand open. */
const OPEN = 5

export const Remarks = memo(function Remarks({ all }: { all: string[] }) {
  const more = all.slice(OPEN)
  return (
    <div className="text-[13px] text-brass">
      {all.slice(0, OPEN).map((remark) => (
        <p key={remark} className="mb-1">
          {remark}
        </p>
      ))}
      {more.length > 0 && (
        <details className="mb-2">
          <summary className="link cursor-pointer">{texts.moreRemarks(more.length)}</summary>
          {more.map((remark) => (
            <p key={remark} className="mt-1">
              {remark}
            </p>
          ))}
        </details>
      )}
    </div>
  )
})
