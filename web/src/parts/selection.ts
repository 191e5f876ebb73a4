import { useCallback, useMemo, useState } from 'react'

export type Way = 'only' | 'range' | 'add'

/** Which frames of a sheet or a shoot are selected, by their ids: one, a range within an entry, or any. */
export interface Selection {
  ids: ReadonlySet<number>
  press: (entry: number, position: number, way: Way) => void
  set: (entry: number, positions: number[], add: boolean) => void
  clear: () => void
}

interface State {
  ids: ReadonlySet<number>
  anchor: { entry: number; position: number } | null
}

const NOTHING: State = { ids: new Set(), anchor: null }

type Entries = readonly { number: number; frames: number[] }[]

const idsOf = (entries: Entries, entry: number) => entries.find((each) => each.number === entry)?.frames ?? []

export function useSelection(entries: Entries): Selection {
  const [state, setState] = useState(NOTHING)
  const press = useCallback(
    (entry: number, position: number, way: Way) => {
      const frames = idsOf(entries, entry)
      const id = frames[position]
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
    [entries],
  )
  const set = useCallback(
    (entry: number, positions: number[], add: boolean) => {
      const frames = idsOf(entries, entry)
      const found = positions.map((position) => frames[position]).filter((id) => id !== undefined)
      setState((now) => ({ ids: new Set([...(add ? now.ids : []), ...found]), anchor: now.anchor }))
    },
    [entries],
  )
  const clear = useCallback(() => {
    setState(NOTHING)
  }, [])
  return useMemo(() => ({ ids: state.ids, press, set, clear }), [state.ids, press, set, clear])
}
