import { api, type ShootFrame } from '../api/client'
import { useFrameWindow, type FrameWindow } from '../api/frames'
import type { Tab } from '../api/tabs'
import type { Seen } from './Frame'
import { tabsOf, useTabs } from './TabMarks'
import { bytes } from './words'

/** Its kinds in words; of a movie or sound, which is played, that alone. */
function kindsOf(files: ShootFrame['files']): string {
  const leading = files[0]?.kind
  if (leading === 'movie') return 'movie'
  if (leading === 'audio') return 'sound'
  return [...new Set(files.map(({ kind }) => (kind === 'raw' ? kind : kind.toUpperCase())))].join(' + ')
}

/** Frames of a shoot that are kept elsewhere. */
interface Elsewhere {
  key: string
  fetch: (offset: number, limit: number) => Promise<ShootFrame[]>
}

/** A shoot's frames, as contact sheets and the looks show them. */
export function useShootFrames(id: number, count: number, elsewhere?: Elsewhere): FrameWindow<Seen & { id: number }> {
  const window = useFrameWindow<ShootFrame>(
    ['frames', 'shoot', id, elsewhere?.key ?? ''],
    count,
    elsewhere?.fetch ?? ((offset, limit) => api.shootFrames(id, offset, limit)),
  )
  const tabs = useTabs()
  return {
    ...window,
    at: (position) => {
      const frame = window.at(position)
      return frame && seenInShoot(frame, tabs)
    },
  }
}

/** A shoot's frame as it is shown. */
export function seenInShoot(frame: ShootFrame, tabs: readonly Tab[]): Seen & { id: number } {
  return {
    ...frame,
    tabs: tabsOf(tabs, frame.tabs),
    state: 'kept',
    kinds: kindsOf(frame.files),
    problems: [],
    lines: frame.files.map((file) => `${file.path}   ${bytes(file.bytes)}   ${file.digest}   from ${file.from}`),
  }
}
