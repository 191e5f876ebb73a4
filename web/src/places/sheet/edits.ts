import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useLayoutEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import {
  api,
  type Edit,
  type Edited,
  type EntryChange,
  type Sheet,
  type SheetChange,
  type Tape,
} from '../../api/client'
import type { Shown } from '../../model/foreseen'
import { openOn, replay, statesOf, told, type Change, type States } from '../../model/operations'
import { useKeys } from '../../keys/useKeys'
import { useUnchanged } from '../../parts/useUnchanged'
import { operationsOf } from '../../store/operations'
import { outdateFrames } from '../../store/open-sheets'
import { settleStates } from '../../store/sheet-frames'

/** What holds for all of a sheet, whatever entries it has: the same object through splits and joins. */
export type Whole = ReturnType<typeof wholeOf>

const wholeOf = ({
  id,
  state,
  style,
  divide,
  kinds,
  companions,
  cameras,
  asks,
  dng,
  rights_sets,
  second_digest,
}: Sheet) => ({ id, state, style, divide, kinds, companions, cameras, asks, dng, rights_sets, second_digest })

/** A sheet as it is shown, and what can be asked of it. */
interface OpenSheet extends Asking {
  sheet: Sheet | undefined
  whole: Whole | undefined
  tape: Tape
  /** Frames whose state an edit on its way has changed. */
  states: States
  /** Why the sheet could not be told. */
  error: Error | null
  refusals: readonly Error[]
}

/** The same functions through all edits: what is given them need not be drawn anew with each key. */
interface Asking {
  edit: (edit: Edit) => void
  change: (rule: SheetChange) => void
  say: (frame: number, words: EntryChange) => void
  dismiss: (refusal: Error) => void
}

const NONE: Tape = []

/** The sheet that the server told last, with the edits that it had not done by then. */
export function useSheet(id: number): OpenSheet {
  const queries = useQueryClient()
  const sheet = useQuery({ queryKey: ['sheet', id], queryFn: () => api.sheet(id) })
  const tape = useQuery({ queryKey: ['tape', id], queryFn: () => api.tape(id) })
  const operations = operationsFor(queries, id)
  const pending = useSyncExternalStore(operations.subscribe, operations.pending)
  const refusals = useSyncExternalStore(operations.subscribe, operations.refusals)
  const [known, setKnown] = useState<Shown | null>(null)
  const now = told(known, sheet.data, tape.data)
  if (now !== known) setKnown(now)
  const shown = useMemo(() => now && replay(now, pending), [now, pending])
  const states = useMemo(() => statesOf(now ? openOn(now.sheet.revision, pending) : []), [now, pending])
  const revision = now?.sheet.revision
  // before it is painted: frames that were left out do not come back until they are told anew
  useLayoutEffect(() => {
    if (revision !== undefined) settleStates(id, statesOf(operations.forget(revision)))
  }, [operations, id, revision])
  const answer = now?.sheet
  useEffect(() => {
    outdateFrames(id) // another sheet gives its frames other names
  }, [id, answer])
  const isApart = sheet.data !== undefined && tape.data !== undefined && sheet.data.revision !== tape.data.revision
  const isAsking = sheet.isFetching || tape.isFetching
  useEffect(() => {
    // the two were answered with an edit between them
    if (isApart && !isAsking && !operations.busy && now?.sheet.state === 'sheet') askAgain(queries, id)
  }, [queries, operations, id, isApart, isAsking, now])
  const latest = useRef(shown)
  useLayoutEffect(() => {
    latest.current = shown
  }, [shown])
  const asking = useMemo((): Asking => {
    const ask = (change: Change) => {
      operations.ask(change, latest.current).catch(() => undefined) // the refusal stands on the page
    }
    return {
      edit: ask,
      change: (rule) => {
        ask({ do: 'rule', rule })
      },
      say: (frame, words) => {
        ask({ do: 'say', frame, words })
      },
      dismiss: (refusal) => {
        operations.dismiss(refusal)
      },
    }
  }, [operations])
  const whole = useUnchanged(shown ? wholeOf(shown.sheet) : undefined)
  return {
    sheet: shown?.sheet,
    whole,
    tape: shown?.tape ?? NONE,
    states,
    error: sheet.error ?? tape.error,
    refusals,
    ...asking,
  }
}

/** Something said of a sheet from a part of the page that does not show all of it. */
export function useAsk(id: number): (change: Change) => Promise<Edited> {
  const queries = useQueryClient()
  return (change) => operationsFor(queries, id).ask(change, null)
}

/** What must wait for the edits that are on their way: settled when they are answered, with whether all were done. */
export function useEditsDone(id: number): () => Promise<boolean> {
  const queries = useQueryClient()
  return () => operationsFor(queries, id).idle()
}

function operationsFor(queries: QueryClient, id: number) {
  return operationsOf(id, () => {
    askAgain(queries, id)
  })
}

function askAgain(queries: QueryClient, id: number): void {
  for (const queryKey of [['sheet', id], ['tape', id], ['groups', id], ['keywords']])
    void queries.invalidateQueries({ queryKey })
}

/** Ctrl or Cmd with Z undoes, with Shift or with Y does again; in a field the field's own undo goes first. */
export function useUndoKeys(edit: OpenSheet['edit'], active: boolean): void {
  const redo = () => {
    edit({ do: 'redo' })
  }
  const undo = () => {
    edit({ do: 'undo' })
  }
  useKeys('sheet', active ? { undo, redo, redoToo: redo } : {})
}
