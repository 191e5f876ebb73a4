import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { api, type OtherFile, type Sheet } from '../../api/client'
import { ShowMore } from '../../parts/ShowMore'
import { bytes, plural } from '../../parts/words'

/** What else is on the cards: one quiet line, which opens to a list of every file and what becomes of it. */
export function OtherFiles({ sheet }: { sheet: Sheet }) {
  const others = useQuery({ queryKey: ['others', sheet.id, sheet.state], queryFn: () => api.others(sheet.id) })
  const [open, setOpen] = useState(false)
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (open) list.current?.scrollIntoView({ block: 'nearest' })
  }, [open])
  const files = others.data ?? []
  if (files.length === 0) return null
  return (
    <section aria-label="Also on the card" className="py-3 text-[13px]">
      <span className="font-semibold">Also on the {sheet.cards.length > 1 ? 'cards' : 'card'}:</span>{' '}
      {plural(files.length, 'file')}, {bytes(files.reduce((sum, file) => sum + file.bytes, 0))}
      <span className="text-soft">
        {FATES.flatMap(([fate, words]) => {
          const many = files.filter((file) => file.fate === fate).length
          return many === 0 ? [] : [` · ${many.toLocaleString('en')} ${words}`]
        })}
      </span>{' '}
      <ShowMore open={open} onOpen={setOpen} says={['Show the files', 'Hide the files']} />
      {open && (
        <div
          ref={list}
          className="mt-2 max-h-[40vh] scroll-mb-28 overflow-y-auto border border-rule bg-leaf"
          tabIndex={0}
          role="region"
          aria-label="Files that belong to no frame"
        >
          <table className="w-full text-left">
            <thead className="sticky top-0 bg-leaf text-soft">
              <tr>
                {sheet.cards.length > 1 && <th className="px-4 py-1.5 font-normal">Card</th>}
                <th className="px-4 py-1.5 font-normal">On the card</th>
                <th className="px-4 py-1.5 text-right font-normal">Size</th>
                <th className="px-4 py-1.5 font-normal">What becomes of it</th>
              </tr>
            </thead>
            <tbody>
              {files.map((file) => (
                <tr key={`${file.card}/${file.path}`} className="border-t border-rule align-top">
                  {sheet.cards.length > 1 && <td className="px-4 py-1.5">{file.card}</td>}
                  <td className="px-4 py-1.5 break-all">{file.path}</td>
                  <td className="px-4 py-1.5 text-right whitespace-nowrap">{bytes(file.bytes)}</td>
                  <td className="px-4 py-1.5 break-words text-soft">{becomes(file)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  )
}

const FATES = [
  ['copied', 'to copy'],
  ['filed', 'filed'],
  ['left', 'left on the card'],
  ['housekeeping', 'housekeeping'],
] as const

function becomes(file: OtherFile) {
  switch (file.fate) {
    case 'copied':
      return `copied to ${file.to ?? ''}`
    case 'filed':
      return `filed as ${file.to ?? ''}`
    case 'left':
      return 'left on the card, which keeps it from being cleared'
    case 'housekeeping':
      return `not copied: ${file.rule ?? ''}, which holds no picture`
  }
}
