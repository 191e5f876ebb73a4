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

interface State {
  ids: ReadonlySet<number>
  anchor: { entry: number; position: number } | null
  /** What was to be selected before it was known which frames there are. */
  asked: { entry: number; positions: number[] } | null
}

const NOTHING: State = { ids: new Set(), anchor: null, asked: null }

type Entries = readonly { number: number; frames: number[] }[] | undefined

const idsOf = (entries: Entries, entry: number) => entries?.find((each) => each.number === entry)?.frames ?? []

const found = (entries: Entries, { entry, positions }: { entry: number; positions: number[] }) => {
  const frames = idsOf(entries, entry)
  return positions.map((position) => frames[position]).filter((id) => id !== undefined)
}

/** The ids as soon as the frames are known. */
const settled = (state: State, entries: Entries): ReadonlySet<number> =>
  state.asked === null ? state.ids : new Set([...state.ids, ...found(entries, state.asked)])

export function useSelection(entries: Entries): Selection {
  const [state, setState] = useState(NOTHING)
  const press = useCallback(
    (entry: number, position: number, way: Way, shown?: number) => {
      const frames = idsOf(entries, entry)
      const id = shown ?? frames[position]
      if (id === undefined) return
      setState((now) => {
        if (way === 'range' && now.anchor?.entry === entry) {
          const [from, to] = [Math.min(now.anchor.position, position), Math.max(now.anchor.position, position)]
          return { ids: new Set(frames.slice(from, to + 1)), anchor: now.anchor, asked: null }
        }
        const anchor = { entry, position }
        if (way !== 'add') return { ids: new Set([id]), anchor, asked: null }
        const ids = new Set(settled(now, entries))
        if (!ids.delete(id)) ids.add(id)
        return { ids, anchor, asked: null }
      })
    },
    [entries],
  )
  const set = useCallback(
    (entry: number, positions: number[], add: boolean) => {
      setState((now) => {
        const before = add ? settled(now, entries) : []
        return entries === undefined
          ? { ids: new Set(before), anchor: now.anchor, asked: { entry, positions } }
          : { ids: new Set([...before, ...found(entries, { entry, positions })]), anchor: now.anchor, asked: null }
      })
    },
    [entries],
  )
  const clear = useCallback(() => {
    setState(NOTHING)
  }, [])
  const ids = useMemo(() => settled(state, entries), [state, entries])
  return useMemo(() => ({ ids, press, set, clear }), [ids, press, set, clear])
}
