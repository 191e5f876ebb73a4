import { useEffect, useRef, useState } from 'react'
import type { Entry } from '../../api/client'
import { useAsk } from './edits'

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
  const ask = useAsk(sheet)
  const [error, setError] = useState<Error | null>(null)
  const [typed, setTyped] = useState<string | null>(null)
  const timer = useRef(0)
  const latest = useRef<string | null>(null)
  const { frame } = entry
  const sent = useRef<string | null>(null)
  const send = () => {
    window.clearTimeout(timer.current)
    const text = latest.current
    if (text === null || text === sent.current || frame === null) return
    sent.current = text
    ask({ do: 'say', frame, words: { [field]: text } }).then(
      () => {
        setError(null)
        if (latest.current !== text) return
        latest.current = sent.current = null
        setTyped(null)
      },
      (refusal: unknown) => {
        sent.current = null // it may be sent again as it is
        setError(refusal instanceof Error ? refusal : null)
      },
    )
  }
  const flush = useRef(send)
  useEffect(() => {
    flush.current = send
  })
  useEffect(() => {
    const leave = () => {
      flush.current()
    }
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      flush.current()
    }
  }, [sheet, frame, field])
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
    error,
  }
}
