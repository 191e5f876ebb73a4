import { useCallback, useEffect, useState, useSyncExternalStore } from 'react'
import { api, type SheetFrame } from '../api/client'
import { CHUNK, type FrameWindow } from '../api/frames'
import type { States } from '../model/operations'
import { Frames } from './frames'
import { tellsFrames } from './open-sheets'

const ofSheets = new Map<number, Frames<SheetFrame>>()

function framesOf(sheet: number): Frames<SheetFrame> {
  const known = ofSheets.get(sheet)
  if (known) return known
  const frames = new Frames((ids) => api.framesById(sheet, ids))
  ofSheets.set(sheet, frames)
  tellsFrames(sheet, frames)
  return frames
}

/** Frames that an edit left out or took back, which the server has done by now. */
export function settleStates(sheet: number, states: States): void {
  ofSheets
    .get(sheet)
    ?.set(
      new Map([...states].map(([id, state]) => [id, (frame) => (isChoice(frame.state) ? { ...frame, state } : frame)])),
    )
}

/** The frames of an entry of a sheet that is being planned, wherever an edit has just put them. */
export function usePlannedFrames(sheet: number, ids: readonly number[], states: States): FrameWindow<SheetFrame> {
  const frames = framesOf(sheet)
  const version = useSyncExternalStore(frames.subscribe, frames.version)
  const [{ first, last }, setRange] = useState({ first: 0, last: 0 })
  useEffect(() => {
    // by whole hundreds: a step further asks for nothing
    frames.want(ids.slice(Math.floor(first / CHUNK) * CHUNK, (Math.floor(last / CHUNK) + 1) * CHUNK))
  }, [frames, ids, first, last, version])
  const want = useCallback((from: number, to: number) => {
    setRange((now) => (now.first === from && now.last === to ? now : { first: from, last: to }))
  }, [])
  return {
    count: ids.length,
    want,
    at: (position) => {
      const frame = frames.get(ids[position] ?? 0)
      const state = frame && states.get(frame.id)
      return state && isChoice(frame.state) ? { ...frame, state } : frame
    },
  }
}

/** A frame that is filed already, or cannot be read, is not taken back by a word. */
const isChoice = (state: SheetFrame['state']) => state === 'new' || state === 'left_out'
