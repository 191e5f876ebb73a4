import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { api, type Entry, type Sheet } from '../../api/client'
import { scopeOf } from './edits'

const PAUSE = 220

interface Typed {
  value: string
  type: (text: string) => void
  /** Sends what was typed now. */
  flush: () => void
  error: Error | null
}

/**
 * A text of an entry while it is typed. It is sent after a short pause in the typing, and at once when the field is
 * left or the page goes away, so that a reload loses nothing.
 */
export function useTyped(
  sheet: number,
  entry: Entry,
  field: 'name' | 'kind' | 'client' | 'trip' | 'description',
): Typed {
  const queries = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const timer = useRef(0)
  const latest = useRef<string | null>(null)
  const save = useMutation({
    mutationFn: (text: string) => api.changeEntry(sheet, entry.number, { [field]: text }),
    scope: scopeOf(sheet),
    onSuccess: (answer, text) => {
      queries.setQueryData<Sheet>(['sheet', sheet], answer)
      void queries.invalidateQueries({ queryKey: ['frames', 'sheet', sheet] })
      if (latest.current === text) {
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
  return {
    value: typed ?? entry[field] ?? '',
    type: (text) => {
      setTyped(text)
      latest.current = text
      window.clearTimeout(timer.current)
      timer.current = window.setTimeout(() => {
        flush.current()
      }, PAUSE)
    },
    flush: () => {
      flush.current()
    },
    error: save.error,
  }
}
