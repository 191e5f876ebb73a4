import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../../api/client'
import { instant } from '../../parts/words'
import { texts } from './texts'

/** A frame's way from the card to today, as the ledger has it. */
export function Custody({ frame }: { frame: number }) {
  const [open, setOpen] = useState(false)
  const lines = useQuery({ queryKey: ['custody', frame], queryFn: () => api.custody(frame), enabled: open })
  return (
    <div className="mt-1">
      <button
        type="button"
        className="min-h-6 underline underline-offset-3 hover:text-white"
        aria-expanded={open}
        onClick={() => {
          setOpen(!open)
        }}
      >
        {open ? texts.custody.hide : texts.custody.show}
      </button>
      {open && lines.error && <p role="alert">{lines.error.message}</p>}
      {open && (
        <ol className="mt-1 grid max-h-[22vh] grid-cols-[max-content_1fr] gap-x-5 gap-y-0.5 overflow-y-auto">
          {lines.data?.map((line) => (
            <li key={`${line.at} ${line.file} ${line.event}`} className="contents">
              <time dateTime={line.at} className="text-[#d0d0d0]">
                {instant(line.at)}
              </time>
              <span className="wrap-anywhere">{texts.custody.said(line)}</span>
            </li>
          ))}
        </ol>
      )}
    </div>
  )
}
