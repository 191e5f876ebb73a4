import { QueryObserver } from '@tanstack/react-query'
import { expect, test, vi } from 'vitest'
import { Queries } from '../src/api/queries'

/** A page that asks for something, and a server whose answers come when the test says so. */
function page() {
  const queries = new Queries()
  const asked: ((answer: string) => void)[] = []
  const observer = new QueryObserver(queries, {
    queryKey: ['bays'],
    queryFn: () => new Promise<string>((resolve) => asked.push(resolve)),
  })
  const leave = observer.subscribe(() => undefined)
  return { queries, observer, asked, leave }
}

const answered = async (times: number, asked: unknown[]) => {
  await vi.waitFor(() => {
    expect(asked).toHaveLength(times)
  })
}

test('what became untrue while the first answer was on its way is asked for again', async () => {
  const { queries, observer, asked, leave } = page()
  void queries.invalidateQueries({ queryKey: ['bays'] })
  expect(asked).toHaveLength(1)
  asked[0]?.('reading, 0 of 80')
  await answered(2, asked)
  asked[1]?.('read')
  await vi.waitFor(() => {
    expect(observer.getCurrentResult().data).toBe('read')
  })
  leave()
})

test('what becomes untrue more often than it is answered is shown all the same, and asked for once more', async () => {
  const { queries, observer, asked, leave } = page()
  asked[0]?.('one filed')
  await vi.waitFor(() => {
    expect(observer.getCurrentResult().data).toBe('one filed')
  })
  for (let n = 0; n < 5; n++) void queries.invalidateQueries()
  await answered(2, asked)
  asked[1]?.('two filed')
  await answered(3, asked)
  expect(observer.getCurrentResult().data).toBe('two filed')
  asked[2]?.('all filed')
  await vi.waitFor(() => {
    expect(observer.getCurrentResult()).toMatchObject({ data: 'all filed', isFetching: false })
  })
  expect(asked).toHaveLength(3)
  leave()
})

test('what was not being asked is asked once', async () => {
  const { queries, observer, asked, leave } = page()
  asked[0]?.('no card is in')
  await vi.waitFor(() => {
    expect(observer.getCurrentResult().isFetching).toBe(false)
  })
  void queries.invalidateQueries({ queryKey: ['bays'] })
  await answered(2, asked)
  asked[1]?.('a card is in')
  await vi.waitFor(() => {
    expect(observer.getCurrentResult()).toMatchObject({ data: 'a card is in', isFetching: false })
  })
  expect(asked).toHaveLength(2)
  leave()
})
