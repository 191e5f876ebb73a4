import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api, type Edit, type Sheet, type SheetChange, type SheetFrame, type Tape } from '../../api/client'
import { isTyping } from '../../parts/Keys'
import { edited } from './tape-layout'

interface Edits {
  edit: (edit: Edit) => void
  change: (change: SheetChange) => void
  into: (number: number, shoot: number | null) => void
  error: Error | null
}

/** Edits of a sheet; what the server answers is shown at once. */
export function useEdits(id: number): Edits {
  const queries = useQueryClient()
  const shown = (sheet: Sheet) => {
    queries.setQueryData(['sheet', id], sheet)
    void queries.invalidateQueries({ queryKey: ['tape', id] })
    void queries.invalidateQueries({ queryKey: ['frames', 'sheet', id] })
  }
  const run = useMutation({
    mutationFn: (ask: () => Promise<Sheet>) => ask(),
    onSuccess: shown,
    onError: () => {
      void queries.invalidateQueries({ queryKey: ['tape', id] })
      void queries.invalidateQueries({ queryKey: ['frames', 'sheet', id] })
    },
  })
  return {
    edit: (edit) => {
      // shown at once; the server's answer takes its place
      queries.setQueryData<Tape>(['tape', id], (tape) => tape && edited(tape, edit))
      if (edit.do === 'leave_out' || edit.do === 'take_back') {
        const [from, to] = edit.do === 'leave_out' ? (['new', 'left_out'] as const) : (['left_out', 'new'] as const)
        const meant = new Set(edit.frames)
        queries.setQueriesData<SheetFrame[]>({ queryKey: ['frames', 'sheet', id] }, (frames) => frames?.map((frame) => (meant.has(frame.id) && frame.state === from ? { ...frame, state: to } : frame)))
      }
      run.mutate(() => api.editSheet(id, edit))
    },
    change: (change) => { run.mutate(() => api.changeSheet(id, change)) },
    into: (number, shoot) => { run.mutate(() => api.changeEntry(id, number, { into: shoot })) },
    error: run.error,
  }
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
