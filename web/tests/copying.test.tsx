// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, QueryObserver } from '@tanstack/react-query'
import { cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import type { Progress, Sheet } from '../src/api/client'
import { withProgress } from '../src/model/copying'
import { useFeed } from '../src/store/feed'
import type { Happenings, Told } from '../src/store/stream'

const line: { tell: (told: Told) => void } = vi.hoisted(() => ({ tell: () => undefined }))
vi.mock('../src/store/shared-stream', () => ({
  listenTogether: (tell: (told: Told) => void) => {
    line.tell = tell
    return () => undefined
  },
}))
beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
})

const progress = (files_done: number, more: Partial<Progress> = {}) => ({
  ...{ files: 130, bytes: 13_000, bytes_filed: 100 * files_done, frames: 130, frames_done: files_done, failed: 0 },
  ...{ files_done, bytes_done: 100 * files_done, to_write: 0, now: [{ name: 'a.jpg', step: 'copying' as const }] },
  ...more,
})

/** A sheet of two entries, of which so many files are copied; only what is looked at here. */
const copying = (files_done: number) =>
  ({
    id: 7,
    state: 'running',
    progress: { ...progress(files_done), failures: [], remarks: [], clearances: [] },
    entries: [1, 2].map((number) => ({
      number,
      progress: { files: 65, files_done: 0, bytes_done: 0, frames_done: 0, failed: 0 },
    })),
  }) as unknown as Sheet

const told = (files_done: number, more: Partial<Progress> = {}): Happenings['intake'] => ({
  id: 7,
  progress: progress(files_done, more),
  entries: [
    {
      number: 2,
      progress: { files: 65, files_done, bytes_done: 100 * files_done, frames_done: files_done, failed: 0 },
    },
  ],
})

describe('a sheet that is being copied', () => {
  test('is as it was told last, and keeps what was not told of', () => {
    const now = withProgress(copying(10), told(64))
    expect(now.progress).toMatchObject({ files_done: 64, bytes_done: 6400, failures: [], clearances: [] })
    expect(now.entries.map((entry) => entry.progress?.files_done)).toEqual([0, 64])
  })

  test('is not put back by what was told before it was answered', () => {
    const now = copying(64)
    expect(withProgress(now, told(10))).toBe(now)
  })

  test('names what is in hand, and its step', () => {
    const step = (target: string, step: 'copying' | 'verifying') => ({ id: 7, target, step, bytes_within: 5 })
    const sheet = copying(0)
    expect(withProgress(sheet, step('2026/x/a.jpg', 'copying'))).toBe(sheet)
    expect(withProgress(sheet, step('2026/x/a.jpg', 'verifying')).progress?.now).toEqual([
      { name: 'a.jpg', step: 'verifying' },
    ])
    expect(withProgress(sheet, step('2026/x/b.jpg', 'copying')).progress?.now.map(({ name }) => name)).toEqual([
      'a.jpg',
      'b.jpg',
    ])
  })

  test('on paper yet has no progress that could be told', () => {
    const planned = { ...copying(0), progress: null }
    expect(withProgress(planned, told(64))).toBe(planned)
  })
})

/** A page that shows the sheet, whose answers take as long as a copy lets them. */
function page() {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, networkMode: 'always' } } })
  const ask = vi.fn(() => new Promise<Sheet>(() => undefined))
  queries.setQueryData(['sheet', 7], copying(0))
  const shown = new QueryObserver<Sheet>(queries, { queryKey: ['sheet', 7], queryFn: ask })
  shown.subscribe(() => undefined)
  renderHook(
    () => {
      useFeed()
    },
    {
      wrapper: ({ children }: { children: ReactNode }) => (
        <QueryClientProvider client={queries}>{children}</QueryClientProvider>
      ),
    },
  )
  const hear = (payload: Happenings['intake']) => {
    line.tell({ topic: 'intake', data: JSON.stringify(payload) })
  }
  return { ask, hear, done: () => queries.getQueryData<Sheet>(['sheet', 7])?.progress?.files_done }
}

describe('the feed', () => {
  test('shows how far a copy is from what is told, and asks for nothing', () => {
    const { ask, hear, done } = page()
    for (const files of [10, 20, 30]) {
      hear(told(files))
      expect(done()).toBe(files)
      vi.advanceTimersByTime(5_000)
    }
    expect(ask).not.toHaveBeenCalled()
  })

  test('asks for what went wrong, and for what an intake is when its state is another', () => {
    const { ask, hear } = page()
    hear(told(10, { failed: 1 }))
    expect(ask).toHaveBeenCalledTimes(1)
    hear({ id: 7, state: 'done' })
    vi.advanceTimersByTime(1_000)
    expect(ask).toHaveBeenCalledTimes(2)
  })
})
