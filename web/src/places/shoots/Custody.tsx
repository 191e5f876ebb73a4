import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type CustodyLine } from '../../api/client'
import { instant, list } from '../../parts/words'

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
        {open ? 'Hide custody' : 'Custody'}
      </button>
      {open && lines.error && <p role="alert">{lines.error.message}</p>}
      {open && (
        <ol className="mt-1 grid max-h-[22vh] grid-cols-[max-content_1fr] gap-x-5 gap-y-0.5 overflow-y-auto">
          {lines.data?.map((line) => (
            <li key={`${line.at} ${line.file} ${line.event}`} className="contents">
              <time dateTime={line.at} className="text-[#d0d0d0]">
                {instant(line.at)}
              </time>
              <span className="wrap-anywhere">{said(line)}</span>
            </li>
          ))}
        </ol>
      )}
    </div>
  )
}

function said(line: CustodyLine): string {
  const from = `${line.from ?? ''} on ${line.card ?? 'a card'}`
  const digest = line.digest ?? ''
  const places = list(line.to)
  switch (line.event) {
    case 'file_filed':
      return `${from} was copied and verified: ${places}, ${digest} (intake ${line.intake ?? ''})`
    case 'file_repaired':
      return `${line.file} was repaired from ${from}: ${places}, ${digest} (intake ${line.intake ?? ''})`
    case 'file_same':
      return `${from} was read to its end and is the same, ${digest} (intake ${line.intake ?? ''})`
    case 'file_failed':
      return `${from} could not be copied (intake ${line.intake ?? ''})`
    case 'metadata_written':
      return `What the frame says was written into ${line.file}, its picture untouched: ${digest}`
    case 'sidecar_written':
      return `What the frame says was written beside ${line.file}: ${places}, ${digest}`
    case 'metadata_refused':
      return `${line.file} could not be written into and stayed as it was`
    case 'dng_made':
      return `DNG was made of the raw file, every sample the same: ${places}, ${digest}`
    case 'dng_refused':
      return `The raw file was not converted and stayed as it was`
    case 'raw_left':
      return `Its DNG took the place of the raw file, ${digest}`
    case 'raw_taken_out':
      return `The raw file was taken out of the DNG, bit for bit: ${places}, ${digest}`
    case 'outside_taken':
      return `What another program wrote was taken: ${places}, ${digest}`
    case 'outside_overruled':
      return `Another program had written into it; what the frame says was kept: ${places}, ${digest}`
    case 'outside_put_back':
      return `Another program had changed its picture; it was put back from the other copy: ${places}, ${digest}`
    case 'file_set_aside':
      return `It was set aside: ${places}`
    case 'file_brought_back':
      return `It was brought back: ${places}`
    case 'file_thrown_away':
      return `It was thrown away: ${places}`
    case 'file_deleted':
      return `${line.file} was deleted for good, ${digest}`
    case 'file_forgotten':
      return `${line.file} was left where it lay, and is not looked after any more`
    case 'checked':
      return `${line.file} was read again from every drive and is as it was filed`
    case 'found_damaged':
      return `${line.file} was found missing or changed in ${places}`
  }
}
