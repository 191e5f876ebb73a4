import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { api, type Entry, type Sheet } from '../../api/client'
import { Trouble } from '../../parts/Trouble'

const PAUSE = 220

/**
 * An entry's name, typed straight into the row. It is sent after a short pause in the typing, and at once when the field is
 * left or the page goes away, so that a reload loses nothing.
 */
export function EntryName({ sheet, entry }: { sheet: number; entry: Entry }) {
  const queries = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const timer = useRef(0)
  const latest = useRef<string | null>(null)
  const save = useMutation({
    mutationFn: (name: string) => api.nameEntry(sheet, entry.number, name),
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
  useEffect(() => {
    const leave = flush.current
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [])
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') {
      event.preventDefault()
      flush.current()
      const fields = [...document.querySelectorAll<HTMLInputElement>('input[data-entry-name]')]
      const next = fields[fields.indexOf(event.currentTarget) + 1]
      if (next) next.focus()
      else event.currentTarget.blur()
    }
    if (event.key === 'Escape') event.currentTarget.blur()
  }
  return (
    <>
      <input
        data-entry-name
        aria-label={`Name of entry ${entry.number}`}
        placeholder="Name this shoot"
        autoComplete="off"
        spellCheck={false}
        value={typed ?? entry.name}
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
        className="serif w-full border-b border-dotted border-rule-strong bg-transparent pb-1 text-[20px] placeholder:text-soft placeholder:italic focus:border-solid focus:border-velvet focus:outline-none"
      />
      {save.error && <Trouble>{save.error.message}</Trouble>}
    </>
  )
}
