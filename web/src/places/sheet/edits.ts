import { notifyManager, useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import {
  api,
  type Edit,
  type EntryChange,
  type Sheet,
  type SheetChange,
  type SheetFrame,
  type Tape,
} from '../../api/client'
import { CHUNK } from '../../api/frames'
import { isTyping } from '../../parts/Keys'
import { foreseen, framesOf, type Shown } from './foreseen'

interface Edits {
  edit: (edit: Edit) => void
  change: (change: SheetChange) => void
  say: (number: number, change: EntryChange) => void
  error: Error | null
}

/**
 * What was shown before an edit, for undoing it at once; `label` is what the server calls the edit once it has
 * answered.
 */
interface Step {
  edit: Edit
  shown: Shown
  label: string | null
}

/** What is asked of one sheet goes to the server in order: an answer never overtakes a later one. */
export function scopeOf(sheet: number): { id: string } {
  return { id: `edits of sheet ${sheet}` }
}

/** Edits of a sheet; their outcome is shown at once, and the server's answer takes its place. */
export function useEdits(id: number): Edits {
  const queries = useQueryClient()
  const steps = useRef<Step[]>([])
  const run = useMutation({
    mutationFn: ({ ask }: { ask: () => Promise<Sheet>; step?: Step | null }) => ask(),
    scope: scopeOf(id),
    onSuccess: (sheet, { step }) => {
      if (step) step.label = sheet.history.undo
      queries.setQueryData(['sheet', id], sheet)
    },
    onError: () => {
      steps.current = []
      void queries.invalidateQueries({ queryKey: ['sheet', id] })
    },
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['tape', id] })
      void queries.invalidateQueries({ queryKey: ['frames', 'sheet', id] })
      void queries.invalidateQueries({ queryKey: ['keywords'] })
    },
  })
  const otherwise = (ask: () => Promise<Sheet>) => {
    steps.current = []
    run.mutate({ ask })
  }
  return {
    edit: (edit) => {
      const ask = () => api.editSheet(id, edit)
      const [sheet, tape] = [queries.getQueryData<Sheet>(['sheet', id]), queries.getQueryData<Tape>(['tape', id])]
      if (edit.do === 'undo') {
        const last = steps.current.pop()
        if (last?.label != null && last.label === sheet?.history.undo) takeBack(queries, id, last)
        run.mutate({ ask })
      } else if (sheet && tape && foresee(queries, id, { sheet, tape }, edit)) {
        const step: Step = { edit, shown: { sheet, tape }, label: null }
        steps.current.push(step)
        run.mutate({ ask, step })
      } else {
        otherwise(ask)
      }
    },
    change: (change) => {
      otherwise(() => api.changeSheet(id, change))
    },
    say: (number, change) => {
      // keywords stand there at once
      const [come, go] = [change.add_keywords ?? [], change.remove_keywords ?? []]
      if (come.length + go.length > 0)
        queries.setQueryData<Sheet>(
          ['sheet', id],
          (sheet) =>
            sheet && {
              ...sheet,
              entries: sheet.entries.map((entry) =>
                entry.number === number
                  ? {
                      ...entry,
                      keywords: [...new Set([...(entry.keywords ?? []), ...come])].filter((path) => !go.includes(path)),
                    }
                  : entry,
              ),
            },
        )
      otherwise(() => api.changeEntry(id, number, change))
    },
    error: run.error,
  }
}

/** Shows what an edit will do, where that can be known here. */
function foresee(queries: QueryClient, id: number, shown: Shown, edit: Edit): boolean {
  if (edit.do === 'leave_out' || edit.do === 'take_back') {
    setStates(queries, id, edit.do, edit.frames)
    return true
  }
  const then = foreseen(shown, edit)
  if (then.tape === shown.tape) return false
  show(queries, id, then)
  return true
}

function takeBack(queries: QueryClient, id: number, { edit, shown }: Step): void {
  // what can be undone next is the server's to say
  show(queries, id, { ...shown, sheet: { ...shown.sheet, history: { undo: null, redo: null } } })
  if (edit.do === 'leave_out') setStates(queries, id, 'take_back', edit.frames)
  if (edit.do === 'take_back') setStates(queries, id, 'leave_out', edit.frames)
}

function show(queries: QueryClient, id: number, shown: Shown): void {
  const fetched = queries
    .getQueriesData<(SheetFrame | null)[]>({ queryKey: ['frames', 'sheet', id] })
    .flatMap(([, frames]) => frames ?? [])
  const known = new Map(fetched.flatMap((frame) => (frame ? [[frame.id, frame] as const] : [])))
  // what is on its way shows the sheet as it was
  void queries.cancelQueries({ queryKey: ['frames', 'sheet', id] })
  void queries.cancelQueries({ queryKey: ['tape', id] })
  // drawn once, when all of it is known
  notifyManager.batch(() => {
    for (const entry of shown.tape) {
      for (let chunk = 0; chunk * CHUNK < entry.frames.length; chunk++) {
        const key = ['frames', 'sheet', id, entry.number, chunk]
        const frames = framesOf(entry, known, chunk * CHUNK, CHUNK)
        if (queries.getQueryData(key) !== undefined || frames.some((frame) => frame !== null))
          queries.setQueryData(key, frames)
      }
    }
    queries.setQueryData(['tape', id], shown.tape)
    queries.setQueryData(['sheet', id], shown.sheet)
  })
}

function setStates(queries: QueryClient, id: number, way: 'leave_out' | 'take_back', frames: number[]): void {
  const [from, to] = way === 'leave_out' ? (['new', 'left_out'] as const) : (['left_out', 'new'] as const)
  const meant = new Set(frames)
  queries.setQueriesData<(SheetFrame | null)[]>({ queryKey: ['frames', 'sheet', id] }, (known) =>
    known?.map((frame) => (frame && meant.has(frame.id) && frame.state === from ? { ...frame, state: to } : frame)),
  )
}

/** Ctrl or Cmd with Z undoes, with Shift or with Y does again; in a field the field's own undo goes first. */
export function useUndoKeys(edit: Edits['edit'], active: boolean): void {
  useEffect(() => {
    if (!active) return
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || isTyping(event)) return
      const key = event.key.toLowerCase()
      if (key !== 'z' && key !== 'y') return
      event.preventDefault()
      edit({ do: key === 'y' || event.shiftKey ? 'redo' : 'undo' })
    }
    window.addEventListener('keydown', press)
    return () => {
      window.removeEventListener('keydown', press)
    }
  }, [edit, active])
}
