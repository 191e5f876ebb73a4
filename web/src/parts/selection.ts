import { useCallback, useMemo, useState } from 'react'

export type Way = 'only' | 'range' | 'add'

/** Which frames of a sheet or a shoot are selected, by their ids: one, a range within an entry, or any. */
export interface Selection {
  ids: ReadonlySet<number>
  /** `shown`: the frame that the hand met there, where an answer that is on its way has moved the others. */
  press: (entry: number, position: number, way: Way, shown?: number) => void
  set: (entry: number, positions: number[], add: boolean) => void
  clear: () => void
}

export function useSelection(entries: readonly { number: number; frames: number[] }[] | undefined): Selection {
  const [state, setState] = useState<{ ids: ReadonlySet<number>; anchor: { entry: number; position: number } | null }>({ ids: new Set(), anchor: null })
  const idsOf = useCallback((entry: number) => entries?.find((each) => each.number === entry)?.frames ?? [], [entries])
  const press = useCallback(
    (entry: number, position: number, way: Way, shown?: number) => {
      const frames = idsOf(entry)
      const id = shown ?? frames[position]
      if (id === undefined) return
      setState((now) => {
        if (way === 'range' && now.anchor?.entry === entry) {
          const [from, to] = [Math.min(now.anchor.position, position), Math.max(now.anchor.position, position)]
          return { ids: new Set(frames.slice(from, to + 1)), anchor: now.anchor }
        }
        const anchor = { entry, position }
        if (way !== 'add') return { ids: new Set([id]), anchor }
        const ids = new Set(now.ids)
        if (!ids.delete(id)) ids.add(id)
        return { ids, anchor }
      })
    },
    [idsOf],
  )
  const set = useCallback(
    (entry: number, positions: number[], add: boolean) => {
      const frames = idsOf(entry)
      const found = positions.map((position) => frames[position]).filter((id) => id !== undefined)
      setState((now) => ({ ids: new Set(add ? [...now.ids, ...found] : found), anchor: now.anchor }))
    },
    [idsOf],
  )
  const clear = useCallback(() => {
    setState({ ids: new Set(), anchor: null })
  }, [])
  return useMemo(() => ({ ids: state.ids, press, set, clear }), [state.ids, press, set, clear])
}
