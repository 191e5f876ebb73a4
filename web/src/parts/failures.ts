import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'

declare module '@tanstack/react-query' {
  interface Register {
    /** `inPlace`: whether what asked for it says beside itself when it failed. */
    mutationMeta: { inPlace?: boolean }
  }
}

export interface Failure {
  /** Grows; the same words may fail twice. */
  id: number
  why: string
}

/** What was asked for in vain and is said nowhere else, each until it is read. */
export function useFailures(): { failures: readonly Failure[]; dismiss: (id: number) => void } {
  const mutations = useQueryClient().getMutationCache()
  const [failures, setFailures] = useState<readonly Failure[]>([])
  useEffect(
    () =>
      mutations.subscribe((event) => {
        if (event.type !== 'updated' || event.action.type !== 'error' || event.mutation.meta?.inPlace === true) return
        const error: unknown = event.action.error
        const why = error instanceof Error ? error.message : String(error)
        setFailures((all) => [...all, { id: (all.at(-1)?.id ?? 0) + 1, why }])
      }),
    [mutations],
  )
  const dismiss = useCallback((id: number) => {
    setFailures((all) => all.filter((each) => each.id !== id))
  }, [])
  return { failures, dismiss }
}
