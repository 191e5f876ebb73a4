// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, beforeEach, expect, test } from 'vitest'
import type { Bays, Sheet } from '../src/api/client'
import { Band } from '../src/parts/Band'

beforeEach(() => {
  localStorage.setItem('velvet-theme', 'day') // jsdom knows no media queries
})
afterEach(cleanup)

const progress = { bytes: 1000, bytes_done: 1000, halted: null, dng: null }
const sheet = (state: Sheet['state']) => ({ id: 7, state, progress, cards: [{ label: 'TARN-01' }] }) as unknown as Sheet
const bays = { cards: [], shelves: [], under_way: 7, to_convert: 0, to_write: 0, first_look: null } as unknown as Bays

function show(state: Sheet['state']) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } })
  client.setQueryData(['bays'], bays)
  client.setQueryData(['sheet', 7], sheet(state))
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <Band />
      </MemoryRouter>
    </QueryClientProvider>,
  )
}

test('the band shows the copy that is under way', () => {
  show('running')
  expect(screen.getByText('Copying TARN-01')).toBeTruthy()
  expect(screen.getByText('100 %')).toBeTruthy()
})

test.each(['done', 'stopped'] as const)('an intake that is %s is not under way, whatever the bays say yet', (state) => {
  show(state)
  expect(screen.queryByText('Copying TARN-01')).toBeNull()
  expect(screen.getByText('Nothing under way')).toBeTruthy()
})
