import { useQueries, useQueryClient } from '@tanstack/react-query'
import { useCallback, useState } from 'react'

/** Frames that are asked for at once. */
export const CHUNK = 100

/** Frames of an entry or a shoot, fetched by the hundred as they come into view. */
export interface FrameWindow<F> {
  count: number
  /** The frame at a position; undefined until it is fetched. */
  at: (position: number) => F | undefined
  /** Says that these positions are in view, or soon will be. */
  want: (first: number, last: number) => void
}

export function useFrameWindow<F>(
  key: readonly (string | number)[],
  count: number,
  fetchChunk: (offset: number, limit: number) => Promise<F[]>,
): FrameWindow<F> {
  const [range, setRange] = useState({ first: 0, last: 0 })
  const queries = useQueryClient()
  const chunks: number[] = []
  for (
    let chunk = Math.floor(range.first / CHUNK);
    chunk <= Math.floor(range.last / CHUNK) && chunk * CHUNK < count;
    chunk++
  )
    chunks.push(chunk)
  useQueries({
    queries: chunks.map((chunk) => ({
      queryKey: [...key, chunk],
      queryFn: () => fetchChunk(chunk * CHUNK, CHUNK),
      staleTime: 30_000,
    })),
  })
  const want = useCallback((first: number, last: number) => {
    setRange((now) => (now.first === first && now.last === last ? now : { first, last }))
  }, [])
  // looked up once a drawing: strips ask for every frame they hold
  const known = new Map<number, (F | null)[] | undefined>()
  const chunkOf = (chunk: number) => {
    if (!known.has(chunk)) known.set(chunk, queries.getQueryData<(F | null)[]>([...key, chunk]))
    return known.get(chunk)
  }
  return {
    count,
    want,
    at: (position) => chunkOf(Math.floor(position / CHUNK))?.[position % CHUNK] ?? undefined,
  }
}
