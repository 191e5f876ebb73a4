// @vitest-environment jsdom
import { act, cleanup, renderHook } from '@testing-library/react'
import { afterEach, expect, test, vi } from 'vitest'
import { api, type SheetFrame } from '../src/api/client'
import { outdateFrames } from '../src/store/open-sheets'
import { usePlannedFrames } from '../src/store/sheet-frames'

afterEach(cleanup)

/** Frames of a sheet, and how often they were asked for. */
function shown() {
  const ask = vi
    .spyOn(api, 'framesById')
    .mockImplementation((_, ids) => Promise.resolve(ids.map((id) => ({ id, state: 'new' }) as SheetFrame)))
  ask.mockClear()
  const ids = Array.from({ length: 500 }, (_, i) => 1000 + i)
  const none = new Map()
  const { result } = renderHook(() => usePlannedFrames(7, ids, none))
  const look = async (position: number) => {
    await act(async () => {
      result.current.want(Math.max(0, position - 3), position + 3)
      await Promise.resolve()
    })
  }
  return { ask, look, at: (position: number) => result.current.at(position)?.id }
}

test('twenty presses of an arrow key ask once for the frames that come', async () => {
  const { ask, look, at } = shown()
  for (let position = 0; position < 20; position++) await look(position)
  expect(at(19)).toBe(1019)
  expect(ask).toHaveBeenCalledTimes(1)
  for (let position = 20; position < 120; position++) await look(position)
  expect(ask).toHaveBeenCalledTimes(2)
  await act(async () => {
    outdateFrames(7)
    await Promise.resolve()
  })
  expect(ask).toHaveBeenCalledTimes(3) // what is in view, and nothing else
})
