import { api, type ShootFrame } from '../api/client'
import { useFrameWindow, type FrameWindow } from '../api/frames'
import type { Seen } from './Frame'
import { bytes } from './words'

/** Kinds that are words and no abbreviations. */
const SPOKEN = new Set(['raw', 'movie', 'sound'])

/** A shoot's frames, as contact sheets and the looks show them. */
export function useShootFrames(id: number, count: number): FrameWindow<Seen & { id: number }> {
  const window = useFrameWindow<ShootFrame>(['frames', 'shoot', id], count, (offset, limit) =>
    api.shootFrames(id, offset, limit),
  )
  return {
    ...window,
    at: (position) => {
      const frame = window.at(position)
      return (
        frame && {
          ...frame,
          state: 'kept',
          kinds: [...new Set(frame.files.map(({ kind }) => (SPOKEN.has(kind) ? kind : kind.toUpperCase())))].join(
            ' + ',
          ),
          problems: [],
          lines: frame.files.map((file) => `${file.path}   ${bytes(file.bytes)}   ${file.digest}   from ${file.from}`),
        }
      )
    },
  }
}
