import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useSyncExternalStore } from 'react'
import { Trouble } from './Trouble'

/** Says that what a page shows could not be asked for again: it stands as it was, and may be old. */
export function Unanswered() {
  const queries = useQueryClient()
  const cache = queries.getQueryCache()
  const why = useSyncExternalStore(
    useCallback((told) => cache.subscribe(told), [cache]),
    () =>
      cache
        .getAll()
        .find((query) => query.isActive() && query.state.status === 'error' && query.state.data !== undefined)?.state
        .error?.message ?? null,
  )
  if (why === null) return null
  return (
    <div className="page pt-3">
      <Trouble
        action={
          <button type="button" className="link ml-auto" onClick={() => void queries.invalidateQueries()}>
            Ask again
          </button>
        }
      >
        {why} What you see here may be old.
      </Trouble>
    </div>
  )
}
