import type { VirtualItem, Virtualizer } from '@tanstack/react-virtual'
import { useEffect } from 'react'
import type { FrameWindow } from '../api/frames'

/**
 * The items of a virtual list that are in view; their frames are fetched, and the list measured anew when they have
 * come.
 */
export function useInView<F>(list: Virtualizer<HTMLDivElement, Element>, frames: FrameWindow<F>): VirtualItem[] {
  const items = list.getVirtualItems()
  const first = items[0]?.index ?? 0
  const last = items.at(-1)?.index ?? 0
  const { want } = frames
  useEffect(() => {
    want(first, last)
  }, [want, first, last])
  const there = frames.at(first) !== undefined
  useEffect(() => {
    list.measure()
  }, [list, there, first, last])
  return items
}
