// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, useMutation } from '@tanstack/react-query'
import { act, cleanup, render, screen, waitFor } from '@testing-library/react'
import { afterEach, expect, test } from 'vitest'
import { Failures } from '../src/parts/Failures'
import { useFailures } from '../src/parts/failures'

afterEach(cleanup)

/** A page with two acts that fail: one says so beside itself. */
function Page() {
  const { failures, dismiss } = useFailures()
  const fails = () => Promise.reject(new Error('The card was taken out.'))
  const silent = useMutation({ mutationFn: fails })
  const told = useMutation({ meta: { inPlace: true }, mutationFn: fails })
  return (
    <>
      <button
        type="button"
        onClick={() => {
          silent.mutate()
        }}
      >
        Give up
      </button>
      <button
        type="button"
        onClick={() => {
          told.mutate()
        }}
      >
        Save
      </button>
      <Failures all={failures} onDismiss={dismiss} />
    </>
  )
}

const page = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Page />
    </QueryClientProvider>,
  )

const shown = () => screen.queryAllByRole('button', { name: 'Dismiss' }).length

test('what failed and is said nowhere else stays until it is read, also when it fails twice', async () => {
  page()
  const give = screen.getByRole('button', { name: 'Give up' })
  act(() => {
    give.click()
  })
  await waitFor(() => {
    expect(shown()).toBe(1)
  })
  act(() => {
    give.click()
  })
  await waitFor(() => {
    expect(shown()).toBe(2)
  })
  act(() => {
    screen.getAllByRole('button', { name: 'Dismiss' })[0]?.click()
  })
  await waitFor(() => {
    expect(shown()).toBe(1)
  })
})

test('what is said beside its own button is not said again', async () => {
  page()
  act(() => {
    screen.getByRole('button', { name: 'Save' }).click()
  })
  act(() => {
    screen.getByRole('button', { name: 'Give up' }).click()
  })
  await waitFor(() => {
    expect(shown()).toBe(1)
  })
})
