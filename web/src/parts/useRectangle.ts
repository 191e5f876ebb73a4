import { useRef, useState, type PointerEvent, type RefObject } from 'react'
import type { Selecting } from './ContactSheet'

interface Grid {
  columns: number
  /** Width of a cell and height of a row, in pixels. */
  cell: number
  height: number
  count: number
}
interface Corner {
  x: number
  y: number
}

/** Nearer than this a pressed pointer is a click and no rectangle. */
const SLACK = 6

/** Positions of the cells that a rectangle touches. */
export function touched(a: Corner, b: Corner, grid: Grid): number[] {
  const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)]
  const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)]
  const positions: number[] = []
  for (let row = Math.max(0, Math.floor(top / grid.height)); row <= Math.floor(bottom / grid.height); row++) {
    for (
      let column = Math.max(0, Math.floor(left / grid.cell));
      column <= Math.min(grid.columns - 1, Math.floor(right / grid.cell));
      column++
    ) {
      const position = row * grid.columns + column
      if (position < grid.count) positions.push(position)
    }
  }
  return positions
}

/** Selecting by dragging a rectangle over a contact sheet. */
export function useRectangle(box: RefObject<HTMLDivElement | null>, grid: Grid, selecting: Selecting | undefined) {
  const from = useRef<Corner | null>(null)
  const dragged = useRef(false)
  const [corners, setCorners] = useState<[Corner, Corner] | null>(null)
  const at = (event: PointerEvent): Corner => {
    const edge = box.current?.getBoundingClientRect()
    return {
      x: event.clientX - (edge?.left ?? 0) - 8,
      y: event.clientY - (edge?.top ?? 0) + (box.current?.scrollTop ?? 0),
    }
  }
  const hands = selecting && {
    onPointerDown: (event: PointerEvent) => {
      dragged.current = false
      if (event.button === 0 && event.pointerType === 'mouse') from.current = at(event)
    },
    onPointerMove: (event: PointerEvent) => {
      if (from.current === null) return
      const now = at(event)
      if (!dragged.current && Math.hypot(now.x - from.current.x, now.y - from.current.y) < SLACK) return
      if (!dragged.current) box.current?.setPointerCapture(event.pointerId)
      dragged.current = true
      setCorners([from.current, now])
      selecting.set(touched(from.current, now, grid), event.ctrlKey || event.metaKey)
    },
    onPointerUp: () => {
      from.current = null
      setCorners(null)
    },
    onClickCapture: (event: { stopPropagation: () => void }) => {
      if (dragged.current) event.stopPropagation()
      dragged.current = false
    },
  }
  const rectangle = corners && {
    left: Math.min(corners[0].x, corners[1].x),
    top: Math.min(corners[0].y, corners[1].y),
    width: Math.abs(corners[0].x - corners[1].x),
    height: Math.abs(corners[0].y - corners[1].y),
  }
  return { hands, rectangle }
}
