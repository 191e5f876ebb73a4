import type { EntryChange, SentEdit, SheetChange, Tape } from '../api/client'
import type { Change } from './operations'

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

/** A change as it goes over the wire, and as it is kept until it is answered. */
export type Sent = SentEdit | { do: 'say'; frame: number; words: EntryChange } | { do: 'rule'; rule: SheetChange }

/** @param tape as it was shown when the change was made: the server has done by then what was asked before */
export function sent(change: Change, tape: Tape | undefined): Sent {
  return tape !== undefined && 'frames' in change ? { ...change, ...inSpans(change.frames, tape) } : change
}
