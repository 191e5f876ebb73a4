import { useEffect, useRef, useSyncExternalStore } from 'react'
import { api } from '../api/client'
import { isOver } from './stage'
import { bytes, plural } from './words'

const KEPT = 'velvet-notices'
const listeners = new Set<() => void>()

type State = 'impossible' | 'forbidden' | 'wanted' | 'unwanted'

function state(): State {
  if (!('Notification' in window)) return 'impossible'
  if (localStorage.getItem(KEPT) !== 'yes') return 'unwanted'
  return Notification.permission === 'granted'
    ? 'wanted'
    : Notification.permission === 'denied'
      ? 'forbidden'
      : 'unwanted'
}

/** Whether the browser tells of the end of an intake, and the way to turn that on or off. */
export function useNotices(): { state: State; turn: () => void } {
  const now = useSyncExternalStore((changed) => {
    listeners.add(changed)
    return () => listeners.delete(changed)
  }, state)
  const turn = async () => {
    localStorage.setItem(KEPT, now === 'wanted' ? 'no' : 'yes')
    if (now !== 'wanted') await Notification.requestPermission()
    listeners.forEach((changed) => {
      changed()
    })
  }
  return { state: now, turn: () => void turn() }
}

/** Tells of an intake that was under way and has ended. */
export function useEndNotice(underWay: number | null): void {
  const before = useRef<number | null>(null)
  useEffect(() => {
    const ended = before.current
    before.current = underWay
    if (ended === null || ended === underWay || state() !== 'wanted') return
    void api.sheet(ended).then((sheet) => {
      if (!sheet.progress || !isOver(sheet.state)) return
      const { frames_done, bytes_filed, failed, clearances } = sheet.progress
      const body = [
        failed > 0 ? `${plural(failed, 'file')} failed.` : '',
        ...clearances.map(({ card, cleared, missing }) =>
          cleared
            ? `${card} is cleared: it may be formatted in the camera.`
            : `Do not format ${card} yet. ${missing.join(' ')}`,
        ),
      ]
      new Notification(`${plural(frames_done, 'frame')} filed, ${bytes(bytes_filed)}`, {
        body: body.filter(Boolean).join('\n'),
        tag: `intake-${ended}`,
      })
    })
  }, [underWay])
}
