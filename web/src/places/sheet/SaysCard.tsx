import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type Entry, type Says } from '../../api/client'
import { FIELDS } from '../../parts/fields'
import { Trouble } from '../../parts/Trouble'
import { useTyped } from './useTyped'
import { texts } from './texts'

/** As the file will say: every field that is written into the copies of an entry, whole. */
export function SaysCard({ sheet, entry }: { sheet: number; entry: Entry }) {
  const said = useQuery({
    queryKey: [
      'sheet',
      sheet,
      'says',
      entry.number,
      entry.name,
      entry.client,
      entry.kind,
      entry.description,
      entry.rights,
      entry.keywords,
    ],
    queryFn: () => api.says(sheet, entry.number),
  })
  if (said.error) return <Trouble>{said.error.message}</Trouble>
  if (!said.data) return null
  const { frame, says } = said.data
  return (
    <section aria-label={texts.says.label(entry.number)} className="mt-3 border border-rule bg-leaf px-5 py-3.5">
      <Described sheet={sheet} entry={entry} />
      {says === null ? (
        <p className="text-soft">
          {texts.says.none[0]}{' '}
          <Link to="/house-style" className="link">
            {texts.says.none[1]}
          </Link>{' '}
          {texts.says.none[2]}
        </p>
      ) : (
        <Said frame={frame} says={says} />
      )}
    </section>
  )
}

/** What the frames show, for all of the entry. */
function Described({ sheet, entry }: { sheet: number; entry: Entry }) {
  const typed = useTyped(sheet, entry, 'description')
  return (
    <div className="mb-3 max-w-[110ch]">
      <label className="block text-[13px] text-soft" htmlFor={`description-${entry.number}`}>
        {texts.says.description}
      </label>
      <textarea
        id={`description-${entry.number}`}
        rows={Math.min(8, Math.max(2, typed.value.split('\n').length))}
        value={typed.value}
        onChange={(event) => {
          typed.type(event.target.value)
        }}
        onBlur={typed.flush}
        className="mt-1 w-full border border-rule-strong bg-paper px-2 py-1 focus:border-velvet focus:outline-none"
      />
      {typed.error && <Trouble>{typed.error.message}</Trouble>}
    </div>
  )
}

function Said({ frame, says }: { frame: string | null; says: Says }) {
  return (
    <>
      <p className="mb-1.5 text-[13px] text-soft">{texts.says.as(frame)}</p>
      <dl className="grid max-w-[110ch] grid-cols-[180px_1fr] gap-x-4 gap-y-0.5">
        {says.texts.map(({ field, text }) => (
          <div key={field} className="contents">
            <dt className="text-soft">{FIELDS[field]}</dt>
            <dd className="wrap-anywhere whitespace-pre-line">
              {field === 'copyright_marked' ? (text === 'true' ? texts.says.marked : texts.says.publicDomain) : text}
            </dd>
          </div>
        ))}
        {says.keywords.length > 0 && (
          <>
            <dt className="text-soft">{texts.says.keywords}</dt>
            <dd className="wrap-anywhere">{says.keywords.join(', ')}</dd>
          </>
        )}
      </dl>
    </>
  )
}
