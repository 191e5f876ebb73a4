import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { api, type Entry, type Sheet } from '../../api/client'
import { Trouble } from '../../parts/Trouble'
import { scopeOf } from './edits'

const PAUSE = 220

const FIELDS = {
  name: { label: 'Name', placeholder: 'Name this shoot' },
  kind: { label: 'Kind of shoot', placeholder: 'kind of shoot' },
  client: { label: 'Client', placeholder: 'client' },
} as const

/**
 * An entry's name, or its kind or client where names say those, typed straight into the row. It is sent after a short pause in the typing, and at once when the field is
 * left or the page goes away, so that a reload loses nothing.
 */
export function EntryName({ sheet, entry, field = 'name' }: { sheet: number; entry: Entry; field?: keyof typeof FIELDS }) {
  const queries = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const timer = useRef(0)
  const latest = useRef<string | null>(null)
  const save = useMutation({
    mutationFn: (name: string) => api.changeEntry(sheet, entry.number, { [field]: name }),
    scope: scopeOf(sheet),
    onSuccess: (answer, name) => {
      queries.setQueryData<Sheet>(['sheet', sheet], answer)
      void queries.invalidateQueries({ queryKey: ['frames', 'sheet', sheet] })
      if (latest.current === name) {
        latest.current = null
        setTyped(null)
      }
    },
  })
  const { mutate } = save
  const flush = useRef(() => {
    window.clearTimeout(timer.current)
    if (latest.current !== null) mutate(latest.current)
  })
  const { number } = entry
  useEffect(() => {
    // a page that goes away cannot wait for its turn
    const leave = () => {
      if (latest.current !== null) void api.changeEntry(sheet, number, { [field]: latest.current })
    }
    const rest = flush.current
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      rest()
    }
  }, [sheet, number, field])
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') {
      event.preventDefault()
      flush.current()
      const fields = [...document.querySelectorAll<HTMLInputElement>(`input[data-entry-name=${field}]`)]
      const next = fields[fields.indexOf(event.currentTarget) + 1]
      if (next) next.focus()
      else event.currentTarget.blur()
    }
    if (event.key === 'Escape') event.currentTarget.blur()
  }
  return (
    <>
      <input
        data-entry-name={field}
        aria-label={`${FIELDS[field].label} of entry ${entry.number}`}
        placeholder={FIELDS[field].placeholder}
        autoComplete="off"
        spellCheck={false}
        value={typed ?? entry[field]}
        onChange={(event) => {
          const name = event.target.value
          setTyped(name)
          latest.current = name
          window.clearTimeout(timer.current)
          timer.current = window.setTimeout(flush.current, PAUSE)
        }}
        onBlur={() => {
          flush.current()
        }}
        onKeyDown={press}
        className={`${field === 'name' ? 'serif pb-1 text-[20px]' : 'mt-1 text-[14px]'} w-full border-b border-dotted border-rule-strong bg-transparent placeholder:text-soft placeholder:italic focus:border-solid focus:border-velvet focus:outline-none`}
      />
      {save.error && <Trouble>{save.error.message}</Trouble>}
    </>
  )
}
