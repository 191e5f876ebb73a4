// @vitest-environment jsdom
import { act, renderHook } from '@testing-library/react'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { usePaintedFirst } from '../src/parts/usePaintedFirst'
import { useUnchanged } from '../src/parts/useUnchanged'

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})

test('what takes long to draw comes behind the paint, and at its latest', () => {
  const { result, rerender } = renderHook(({ value }) => usePaintedFirst(value), { initialProps: { value: 'one' } })
  act(() => {
    vi.runAllTimers()
  })
  rerender({ value: 'two' })
  expect(result.current).toBe('one')
  rerender({ value: 'three' })
  act(() => {
    vi.advanceTimersToNextFrame()
  })
  expect(result.current).toBe('one')
  act(() => {
    vi.runAllTimers()
  })
  expect(result.current).toBe('three')
})

test('an object stays the same one while each of its members does', () => {
  const cameras: string[] = []
  const told: { value?: object } = { value: { kinds: 'both', cameras } }
  const { result, rerender } = renderHook(({ value }) => useUnchanged(value), { initialProps: told })
  const first = result.current
  rerender({ value: { kinds: 'both', cameras } })
  expect(result.current).toBe(first)
  rerender({ value: { kinds: 'raw', cameras } })
  expect(result.current).toEqual({ kinds: 'raw', cameras })
  rerender({})
  expect(result.current).toBeUndefined()
})
