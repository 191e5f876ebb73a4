import { expect, type APIRequestContext } from '@playwright/test'
import type { Bays, Sheet } from '../src/api/client'

/**
 * Files cards that are in their bays: each entry that has something new under this name. For what a spec begins with;
 * how a person does it is what others try.
 */
export async function file(request: APIRequestContext, labels: readonly string[], name: string): Promise<void> {
  const cards = async () => {
    const { cards } = (await (await request.get('/api/bays')).json()) as Bays
    return labels.flatMap((label) => cards.find((card) => card.label === label && card.state === 'read')?.id ?? [])
  }
  await expect.poll(async () => (await cards()).length, { timeout: 60_000 }).toBe(labels.length)
  const opened = await request.post('/api/sheets', { data: { cards: await cards() } })
  const { id } = (await opened.json()) as { id: number }
  const sheet = async () => (await (await request.get(`/api/sheets/${id}`)).json()) as Sheet
  for (const entry of (await sheet()).entries) {
    if (entry.counts.new === 0) continue
    const named = await request.patch(`/api/sheets/${id}/frames/${entry.frame ?? 0}/entry`, { data: { name } })
    expect(named.ok()).toBe(true)
  }
  expect((await request.post(`/api/sheets/${id}/copy`)).ok()).toBe(true)
  await expect.poll(async () => (await sheet()).state, { timeout: 120_000 }).toBe('done')
}
