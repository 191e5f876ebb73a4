import { useQuery } from '@tanstack/react-query'
import { memo, useEffect, useRef, useState } from 'react'
import { api, type Sheet } from '../../api/client'
import { PathText } from '../../parts/PathText'
import { ShowMore } from '../../parts/ShowMore'
import { bytes } from '../../parts/words'
import { texts } from './texts'

const says = texts.others

/** What else is on the cards: one quiet line, which opens to a list of every file and what becomes of it. */
export const OtherFiles = memo(function OtherFiles({ sheet }: { sheet: Sheet }) {
  const others = useQuery({ queryKey: ['others', sheet.id, sheet.state], queryFn: () => api.others(sheet.id) })
  const [open, setOpen] = useState(false)
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (open) list.current?.scrollIntoView({ block: 'nearest' })
  }, [open])
  const files = others.data ?? []
  if (files.length === 0) return null
  return (
    <section aria-label={says.label} className="py-3 text-[13px]">
      <span className="font-semibold">{says.title(sheet.cards.length)}</span> {says.count(files.length)},{' '}
      {bytes(files.reduce((sum, file) => sum + file.bytes, 0))}
      <span className="text-soft">
        {FATES.flatMap((fate) => {
          const many = files.filter((file) => file.fate === fate).length
          return many === 0 ? [] : [` · ${many.toLocaleString('en')} ${says.fates[fate]}`]
        })}
      </span>{' '}
      <ShowMore open={open} onOpen={setOpen} says={[says.show, says.hide]} />
      {open && (
        <div
          ref={list}
          className="mt-2 max-h-[40vh] scroll-mb-28 overflow-y-auto border border-rule bg-leaf"
          tabIndex={0}
          role="region"
          aria-label={says.list}
        >
          <table className="w-full table-fixed text-left">
            <thead className="sticky top-0 bg-leaf text-soft">
              <tr>
                {sheet.cards.length > 1 && <th className="w-[14%] px-4 py-1.5 font-normal">{says.card}</th>}
                <th className="w-[38%] px-4 py-1.5 font-normal">{says.head[0]}</th>
                <th className="w-28 px-4 py-1.5 text-right font-normal max-sm:hidden">{says.head[1]}</th>
                <th className="px-4 py-1.5 font-normal">{says.head[2]}</th>
              </tr>
            </thead>
            <tbody>
              {files.map((file) => (
                <tr key={`${file.card}/${file.path}`} className="border-t border-rule align-top">
                  {sheet.cards.length > 1 && <td className="px-4 py-1.5 wrap-anywhere">{file.card}</td>}
                  <td className="px-4 py-1.5 wrap-anywhere">
                    <PathText path={file.path} />
                    <span className="block text-soft sm:hidden">{bytes(file.bytes)}</span>
                  </td>
                  <td className="px-4 py-1.5 text-right whitespace-nowrap max-sm:hidden">{bytes(file.bytes)}</td>
                  <td className="px-4 py-1.5 wrap-anywhere text-soft">{says.becomes(file)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  )
})

const FATES = ['copied', 'filed', 'left', 'housekeeping'] as const
