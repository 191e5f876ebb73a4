import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type MetadataField, type OutsideChange } from '../../api/client'
import { FIELDS } from '../../parts/fields'
import { Refusal, Trouble } from '../../parts/Trouble'
import { ShowMore } from '../../parts/ShowMore'
import { texts } from './texts'

const says = texts.outside

/** Files of a shoot that another program changed, and whose version is to stay. */
export function Outside({ shoot, count }: { shoot: number; count: number }) {
  const queries = useQueryClient()
  const [open, setOpen] = useState(false)
  const changes = useQuery({
    queryKey: ['shoots', shoot, 'outside'],
    queryFn: () => api.outsideChanges(shoot),
    enabled: open,
  })
  const settle = useMutation({
    meta: { inPlace: true },
    mutationFn: async ({ files, keep }: { files: number[]; keep: 'theirs' | 'ours' }) => {
      for (const file of files) await api.settleOutside(file, keep)
    },
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['shoots'] })
    },
  })
  if (count === 0) return null
  const list = changes.data ?? []
  const all = list.map((change) => change.file)
  return (
    <section aria-label={says.label} className="mb-4 border-l-2 border-brass bg-leaf px-4 py-2.5">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <span>
          <b className="text-brass">{says.changed(count)}</b> {says.about(count)}
        </span>
        <ShowMore open={open} onOpen={setOpen} says={[says.seeBoth, says.close]} />
        {open && list.length > 1 && (
          <>
            <button
              type="button"
              className="button"
              disabled={settle.isPending}
              onClick={() => {
                settle.mutate({ files: all, keep: 'theirs' })
              }}
            >
              {says.theirsForAll}
            </button>
            <button
              type="button"
              className="button"
              disabled={settle.isPending}
              onClick={() => {
                settle.mutate({ files: all, keep: 'ours' })
              }}
            >
              {says.oursForAll}
            </button>
          </>
        )}
      </p>
      <Refusal of={settle.error} />
      {open && changes.error && <Trouble>{changes.error.message}</Trouble>}
      {open && (
        <ul className="mt-2 max-h-[40vh] overflow-y-auto">
          {list.map((change) => (
            <Change
              key={change.file}
              change={change}
              busy={settle.isPending}
              onKeep={(keep) => {
                settle.mutate({ files: [change.file], keep })
              }}
            />
          ))}
        </ul>
      )}
    </section>
  )
}

function Change({
  change,
  busy,
  onKeep,
}: {
  change: OutsideChange
  busy: boolean
  onKeep: (keep: 'theirs' | 'ours') => void
}) {
  return (
    <li className="border-t border-rule py-2">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <span className="font-semibold wrap-anywhere" title={change.path}>
          {change.name}
        </span>
        <span className="text-soft">{says.on(change.place)}</span>
        {change.picture_changed && <span className="text-brass">{says.picture}</span>}
        <span className="ml-auto flex gap-3">
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() => {
              onKeep('theirs')
            }}
          >
            {says.theirs}
          </button>
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() => {
              onKeep('ours')
            }}
          >
            {change.picture_changed ? says.putBack : says.ours}
          </button>
        </span>
      </div>
      {change.differences.length > 0 && (
        <table className="mt-1 w-full max-w-[120ch] table-fixed text-left text-[13px]">
          <thead>
            <tr className="text-soft">
              <th className="w-[160px] font-normal">
                <span className="sr-only">{says.head[0]}</span>
              </th>
              <th className="font-normal">{says.head[1]}</th>
              <th className="font-normal">{says.head[2]}</th>
            </tr>
          </thead>
          <tbody>
            {change.differences.map(({ field, ours, theirs }) => (
              <tr key={field} className="align-baseline">
                <th className="font-normal text-soft">
                  {field === 'keywords' || field === 'rating' ? says[field] : FIELDS[field as MetadataField]}
                </th>
                <td className="pr-4 wrap-anywhere">{said(field, ours)}</td>
                <td className="wrap-anywhere">{said(field, theirs)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </li>
  )
}

function said(field: string, text: string): string {
  if (field === 'rating') return text === '0' ? says.none : text === '-1' ? says.rejected : '★'.repeat(Number(text))
  return text === '' ? says.empty : text
}
