import type { Edit, SentEdit, Tape } from '../api/client'

/** From so many neighbours on two ids say it shorter than all of them. */
const SHORT = 3

/**
 * Frames of a sheet as an edit names them: by spans within an entry, and by their ids where they stand alone, so that
 * everything selected is a pair of ids for each entry.
 */
function inSpans(frames: readonly number[], tape: Tape): { frames: number[]; spans: number[][] } {
  const left = new Set(frames)
  const spans: number[][] = []
  for (const { frames: inOrder } of tape) {
    let run: number[] = []
    const end = () => {
      const [first, last] = [run[0], run.at(-1)]
      if (run.length >= SHORT && first !== undefined && last !== undefined) {
        spans.push([first, last])
        for (const id of run) left.delete(id)
      }
      run = []
    }
    for (const id of inOrder) {
      if (left.has(id)) run.push(id)
      else end()
    }
    end()
  }
  return { frames: [...left], spans }
}

/** @param tape as it was shown when the edit was made: the server has done by then what was asked before */
export function sent(edit: Edit, tape: Tape | undefined): SentEdit {
  if (tape === undefined) return edit
  if (edit.do === 'move') return { ...edit, ...inSpans(edit.frames, tape) }
  return edit.do === 'leave_out' || edit.do === 'take_back' ? { ...edit, ...inSpans(edit.frames, tape) } : edit
}
