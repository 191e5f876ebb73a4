import { expect, test } from '@playwright/test'
import { join } from 'node:path'
import { bay, digest, drives, kill, names, tree } from './home'

test('a card goes through: in the bay, on its sheet, copied, with a receipt, and byte for byte on both drives', async ({
  page,
}) => {
  const before = tree(bay('LANTERN'))
  await page.goto('/')
  const row = page.getByRole('region', { name: 'Card LANTERN', exact: true })
  await expect(row).toContainText('116')
  await expect(row).toContainText('2 to 3 May 2026')
  await expect(row).toContainText('116 new')
  await row.getByRole('button', { name: 'Open sheet' }).click()

  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Sheet \d+$/)
  const entry = page.getByRole('region', { name: 'Entry 1', exact: true })
  await expect(entry).toContainText('Runs past midnight')
  await expect(entry).toContainText('1 looks damaged')
  const button = page.getByRole('button', { name: 'Copy 116 frames' })
  await expect(button).toBeDisabled()
  await expect(page.getByText('Entry 1 needs a name first.')).toBeVisible()
  await page.getByLabel('Name of entry 1').fill('Lantern Regatta')
  await expect(entry).toContainText('2026/2026-05-02 Lantern Regatta')
  await expect(entry).toContainText('2026-05-02_lantern-regatta_0001.jpg')

  // what the sheet promises for each frame
  const id = Number(new URL(page.url()).pathname.split('/').at(-1))
  const promised = (await (await page.request.get(`/api/sheets/${id}/entries/1/frames?limit=500`)).json()) as {
    frames: { from: string[]; to: string[] }[]
  }
  expect(promised.frames).toHaveLength(116)

  await expect(button).toBeEnabled()
  await entry.getByRole('button', { name: 'Contact sheet' }).click()
  await button.click()
  await expect(page.getByRole('progressbar', { name: 'Copy', exact: true })).toBeVisible()
  // the sheet turns into its progress, as it was opened
  await expect(entry.getByRole('listbox', { name: /^Contact sheet/ })).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`Receipt ${id}`)
  await expect(entry).toContainText('✓ Verified in every place')
  await expect(page.getByText('LANTERN is cleared')).toBeVisible()

  const shelf = tree(join(drives.shelf, '2026/2026-05-02 Lantern Regatta'))
  const twin = tree(join(drives.twin, '2026/2026-05-02 Lantern Regatta'))
  expect([...shelf].sort()).toEqual([...twin].sort())
  // what belongs to no frame lies there, too, under its own name
  const loose = 'MISC/HERON5.SET'
  expect(shelf.get(`other files/LANTERN/${loose}`)).toEqual(before.get(loose))
  shelf.delete(`other files/LANTERN/${loose}`)
  const named = promised.frames.flatMap((frame) =>
    frame.to.map((to, i) => [to.split('/').at(-1) ?? '', before.get(frame.from[i] ?? '')] as const),
  )
  expect([...shelf].sort()).toEqual([...new Map(named)].sort())
  expect(tree(bay('LANTERN'))).toEqual(before)

  // the receipt names every file with its checksum
  await entry.getByRole('button', { name: 'Files and checksums' }).click()
  await expect(page.getByRole('region', { name: 'Files of entry 1' })).toContainText(/xxh128:[0-9a-f]{32}/)

  // a second time there is nothing to copy
  await page.goto('/bays')
  await expect(row).toContainText('Cleared')
  await row.getByRole('button', { name: 'Open sheet' }).click()
  await expect(page.getByText('Every frame here is filed already.')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Copy 0/ })).toBeDisabled()

  // and the shoot stands among the shoots
  await page.getByRole('link', { name: 'Shoots' }).click()
  await page.getByRole('link', { name: /Lantern Regatta/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Lantern Regatta')
  await expect(page.getByText('verified in two places')).toBeVisible()
  await page.getByRole('option').nth(3).dblclick()
  await expect(page.getByRole('dialog')).toContainText('4 of 116')
  await expect(page.getByRole('dialog').locator('img').last()).toHaveJSProperty('complete', true)
})

test('a worker that is killed while copying is replaced, and the intake ends whole', async ({ page }) => {
  await page.goto('/bays')
  await page.getByRole('region', { name: 'Card TIDE' }).getByRole('button', { name: 'Open sheet' }).click()
  await page.getByLabel('Name of entry 1').fill('Tide clock')
  const before = names(drives.twin).length
  await page.getByRole('button', { name: 'Copy 72 frames' }).click()
  const patience = Date.now() + 15_000
  while (names(drives.twin).length === before && Date.now() < patience); // no page is as quick as that
  kill('work:copies_0')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Receipt/, { timeout: 40_000 })
  await expect(page.getByText('TIDE is cleared')).toBeVisible()
  const shelf = tree(join(drives.shelf, '2026/2026-05-04 Tide clock'))
  expect(shelf.size).toBe(72)
  expect([...tree(join(drives.twin, '2026/2026-05-04 Tide clock'))].sort()).toEqual([...shelf].sort())
  expect(shelf.get('2026-05-04_tide-clock_0001.jpg')).toBe(digest(join(bay('TIDE'), 'DCIM/100TARNA/TARA0701.JPG')))
})
