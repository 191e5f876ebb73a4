import { expect, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  rmSync,
  statSync,
  truncateSync,
  unlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { refusedBy } from './axe'
import { inHand } from './entries'
import { file } from './filed'
import { bay, drives, home, names, putIn, supervise, takeOut, tree } from './home'

test.beforeAll(async ({ request }) => {
  test.setTimeout(180_000)
  await file(request, ['LANTERN'], 'Lantern Regatta')
  await file(request, ['TIDE'], 'Tide clock')
})

test('who made it and whose it is are rules of the house style, seen on the sheet before anything is written', async ({
  page,
}) => {
  await page.goto('/house-style')
  await page.getByRole('button', { name: '+ a field' }).click()
  await page.getByRole('menuitem', { name: 'Creator', exact: true }).click()
  const creator = page.getByRole('group', { name: 'Creator', exact: true })
  await creator.getByRole('button', { name: 'Add a piece to Creator' }).click()
  await page.getByRole('menuitem', { name: 'Free text' }).click()
  await creator.locator('[data-chip]').click()
  await page.getByRole('textbox', { name: 'Text', exact: true }).fill('Ines Varga-Holt')
  await page.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('combobox', { name: 'Keywords of the house style' }).fill('Tarn Hollow, saltmarsh,')
  await expect(page.getByText(/will say: Ines Varga-Holt · Tarn Hollow · saltmarsh/)).toBeVisible()
  await page.goto('/bays')
  await page.getByRole('region', { name: 'Card KILN' }).getByRole('button', { name: 'Open sheet' }).click()
  await (await inHand(page, 2)).getByRole('button', { name: 'Metadata' }).click()
  const card = page.getByRole('region', { name: 'What the files of entry 2 will say' })
  await expect(card).toContainText('Ines Varga-Holt')
  await expect(card).toContainText('Tarn Hollow, saltmarsh')
})

test('keywords of an entry are typed with commas, offered again, taken back, and kept over a reload', async ({
  page,
}) => {
  await page.goto('/bays')
  await page.getByRole('region', { name: 'Card KILN' }).getByRole('button', { name: 'Open sheet' }).click()
  const entry = await inHand(page, 2)
  const field = entry.getByRole('combobox', { name: 'Keywords of entry 2' })
  await field.fill('Places › Saltmarsh, harbour,')
  await expect(entry.getByRole('button', { name: 'Remove harbour' })).toBeVisible()
  await field.fill('kiln')
  await field.press('Enter')
  await entry.getByRole('button', { name: 'Remove harbour' }).click()
  await expect(entry.getByRole('button', { name: 'Remove harbour' })).toHaveCount(0)
  await field.pressSequentially('hárb')
  await expect(page.getByRole('listbox', { name: 'May be meant' }).getByRole('option')).toHaveText(['harbour'])
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(entry.getByRole('button', { name: 'Remove harbour' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo: keywords of entry 2' }).click()
  await expect(entry.getByRole('button', { name: 'Remove harbour' })).toHaveCount(0)
  await page.reload()
  await inHand(page, 2)
  await expect(entry.getByRole('button', { name: 'Remove Places › Saltmarsh' })).toBeVisible()
  await entry.getByRole('button', { name: 'Metadata' }).click()
  const card = page.getByRole('region', { name: 'What the files of entry 2 will say' })
  await card.getByLabel('Description: what these frames show').fill('Pots from the first firing')
  await expect(card.locator('dd', { hasText: 'Pots from the first firing' })).toBeVisible()
  await expect(card).toContainText('Tarn Hollow, Places, Saltmarsh, kiln')
})

test('a card that is pulled halts the intake, and put in again it goes on by itself and tells of its end', async ({
  page,
}) => {
  // the browser's own notice cannot be seen from here: what it is given is kept instead
  await page.addInitScript(() => {
    const told: string[] = []
    function Told(title: string, options: NotificationOptions) {
      told.push(`${title}: ${options.body ?? ''}`)
    }
    Object.assign(Told, { permission: 'granted', requestPermission: () => Promise.resolve('granted') })
    Object.assign(window, { Notification: Told, told })
  })
  await page.goto('/bays')
  await page.getByRole('region', { name: 'Card KILN' }).getByRole('button', { name: 'Open sheet' }).click()
  for (const entry of [2, 3]) {
    await page.getByLabel(`Name of entry ${entry}`).fill('Kiln opening, Saltmarsh Pottery')
    await page.getByLabel(`Name of entry ${entry}`).blur()
  }
  supervise('stop', 'work:copies_1') // one worker takes all of a second, and begins four times
  const before = names(drives.twin).length
  await page.getByRole('button', { name: 'Copy 58 frames' }).click()
  const patience = Date.now() + 15_000
  while (names(drives.twin).length === before && Date.now() < patience); // no page is as quick as that
  takeOut('KILN')
  supervise('start', 'work:copies_1')
  await expect(page.getByRole('alert')).toContainText(
    'The card KILN is out. What is copied stays filed, nothing is half written.',
  )
  await expect(page.getByText(/^[1-9]\d* of 58 frames$/)).toBeVisible()
  expect(await refusedBy(page, 'a halted intake')).toEqual([])
  await expect(page.getByRole('banner')).toContainText('Halted KILN')
  await page.getByLabel('tell me when it is done').check()
  await page.getByRole('link', { name: 'Ledger', exact: true }).click() // whatever page is open
  putIn('KILN')
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { told: string[] }).told), { timeout: 40_000 })
    .toEqual([expect.stringMatching(/^58 frames filed, \d\d\.\d MB: KILN is cleared/)])
  await page.goBack()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Receipt/)
  await expect(page.getByText('58 frames filed')).toBeVisible()
  await expect(page.getByText('KILN is cleared')).toBeVisible()
  expect([...tree(join(drives.twin, '2026'))].sort()).toEqual([...tree(join(drives.shelf, '2026'))].sort())
  // what the style says is in the copies, and the card's files are as they were
  const said = (path: string) =>
    execFileSync('exiftool', ['-s3', '-XMP-dc:Creator', '-XMP-dc:Subject', path]).toString().trim().split('\n')
  const shoot = join(drives.twin, '2026/2026-05-02 Kiln opening, Saltmarsh Pottery')
  expect(said(join(shoot, '2026-05-02_kiln-opening-saltmarsh-pottery_0001.jpg'))).toEqual([
    'Ines Varga-Holt',
    'Tarn Hollow, Places, Saltmarsh',
  ])
  expect(said(join(bay('KILN'), 'DCIM/100TARNA/TARA0351.JPG'))).toEqual([''])
})

test('the receipt is read and printed on one page, and its files are checked by ordinary programs', async ({
  page,
  request,
}) => {
  await page.goto('/ledger')
  await page.getByRole('link', { name: 'Receipt' }).first().click() // the latest
  await page.getByRole('link', { name: 'All of it, to print' }).click()
  await expect(page.getByRole('region', { name: 'Not copied' })).toContainText('equal to 2026/2026-04-30')
  await expect(page.getByRole('region', { name: 'Kiln opening, Saltmarsh Pottery' })).toContainText(
    /xxh128:[0-9a-f]{32}/,
  )
  expect(await refusedBy(page, 'a receipt to print')).toEqual([])
  const id = page.url().split('/').at(-2) ?? ''
  const list = await (await request.get(`/api/sheets/${id}/receipt.xxh128`)).text()
  writeFileSync('/tmp/velvet-e2e.xxh128', list)
  // from Debian's xxhash
  const checked = execFileSync('xxh128sum', ['-c', '/tmp/velvet-e2e.xxh128'], { cwd: drives.twin }).toString()
  expect(checked.match(/: OK$/gm)).toHaveLength(list.trim().split('\n').length)
})

test('what happens to a card while its receipt is on its way is told on the receipt', async ({ page }) => {
  await page.goto('/ledger')
  await page.getByRole('link', { name: 'Receipt' }).first().click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Receipt/)
  // the answers that the page has are older than what it hears next
  await page.route(
    (url) => url.pathname === page.url().replace(/^.*(\/sheets\/\d+).*$/, '/api$1'),
    async (route) => {
      const response = await route.fetch()
      await route.fulfill({ response, json: { ...((await response.json()) as object), state: 'running' } })
    },
  )
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).not.toHaveText(/^Receipt/)
  await page.unrouteAll({ behavior: 'wait' })
  putIn('LANTERN_2')
  try {
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Receipt/)
    await page.goto('/bays') // a card is taken out when it has been read
    await expect(page.getByRole('region', { name: 'Card LANTERN_2' })).toContainText(/\d new/)
  } finally {
    takeOut('LANTERN_2')
  }
})

test('the card of the second slot bears witness, and gives what the first one could not', async ({ page }) => {
  putIn('LANTERN_2')
  try {
    await page.goto('/bays')
    await expect(page.getByRole('region', { name: 'Card LANTERN_2' })).toContainText('1 new')
    await page.getByLabel('LANTERN together with another card').check()
    await page.getByLabel('LANTERN_2 together with another card').check()
    await page.getByRole('button', { name: 'Open one sheet for LANTERN and LANTERN_2' }).click()
    const witness = page.getByRole('region', { name: 'LANTERN and LANTERN_2 compared', exact: true })
    await expect(witness).toContainText('79 frames the same on both, 36 only on LANTERN, 1 differ')
    await witness.getByRole('button', { name: 'Show which' }).click()
    await expect(witness).toContainText('TARA0020')
    await page.getByLabel('Name of entry 1').fill('Lantern Regatta')
    await page.getByRole('button', { name: 'Copy 1 frame' }).click()
    await expect(page.getByText('LANTERN_2 is cleared')).toBeVisible()
  } finally {
    takeOut('LANTERN_2')
  }
})

test('a file that changes is set down as failed with its reason, and tried again when it is whole', async ({
  page,
}) => {
  const changing = join(bay('TIDE'), 'DCIM/100TARNA/TARA0772.JPG')
  await page.goto('/bays')
  appendFileSync(changing, 'x')
  const row = page.getByRole('region', { name: 'Card TIDE' })
  await expect(row).toBeVisible()
  takeOut('TIDE')
  await expect(row).toBeHidden()
  putIn('TIDE')
  await expect(row).toContainText('1 new')
  await row.getByRole('button', { name: 'Open sheet' }).click()
  await page.getByLabel('Name of entry 1').fill('Tide clock')
  await expect(page.getByRole('button', { name: 'Copy 1 frame' })).toBeEnabled()
  // settled, and not copied yet: then it changes
  supervise('stop', 'work:copies_0', 'work:copies_1')
  const { mtime } = statSync(changing)
  await page.getByRole('button', { name: 'Copy 1 frame' }).click()
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
  appendFileSync(changing, 'y')
  supervise('start', 'work:copies_0', 'work:copies_1')
  await expect(page.getByRole('alert')).toContainText('TARA0772.JPG has')
  truncateSync(changing, Number(execFileSync('stat', ['-c', '%s', changing])) - 1)
  utimesSync(changing, mtime, mtime)
  await page.getByRole('button', { name: 'Try 1 file again' }).click()
  // when the card, which changed meanwhile, was looked at again
  await expect(page.getByText('TIDE is cleared')).toBeVisible()
})

test('what changes on a card between reading and copying is read before it is copied', async ({ page }) => {
  const folder = join(bay('TIDE'), 'DCIM/100TARNA')
  supervise('stop', 'work:watch')
  try {
    copyFileSync(join(folder, 'TARA0702.JPG'), join(folder, 'TARA0801.JPG'))
    appendFileSync(join(folder, 'TARA0801.JPG'), 'one more')
    await page.goto('/bays')
    const row = page.getByRole('region', { name: 'Card TIDE' })
    await expect(row).toContainText('Not cleared: The card changed since it was read: 1 file is new.')
  } finally {
    supervise('start', 'work:watch')
  }
  const row = page.getByRole('region', { name: 'Card TIDE' })
  await expect(row).toContainText('1 new') // by itself
  unlinkSync(join(folder, 'TARA0801.JPG'))
  await expect(row).toContainText('✓ Cleared')
  writeFileSync(join(bay('TIDE'), 'A001.XYZ'), 'a kind that nobody knows')
  await expect(row).toContainText('1 file on this card belongs to no frame and was not copied: A001.XYZ.')
  unlinkSync(join(bay('TIDE'), 'A001.XYZ'))
  await expect(row).toContainText('✓ Cleared')
  // a copy that was written to counts when it has been read again
  const copy = [...tree(drives.twin).keys()].find((path) => path.includes('tide-clock_0001')) ?? ''
  utimesSync(join(drives.twin, copy), new Date(), new Date())
  await page.reload()
  await expect(row).toContainText('was written to since it was verified')
  await row.getByRole('button', { name: 'Read them again' }).click()
  await expect(row).toContainText('✓ Cleared')
})

test('two copies on one drive are copied, not cleared, until that is said to be enough', async ({ page, request }) => {
  const root = mkdtempSync(join(home, 'demo/one-drive-'))
  try {
    for (const name of ['shelf', 'twin']) mkdirSync(join(root, name))
    expect(
      (
        await request.post('/api/shelves', {
          data: { name: 'One drive', root: join(root, 'shelf'), twin: join(root, 'twin') },
        })
      ).status(),
    ).toBe(201)
    const card = join(home, 'demo/tray/SOLO')
    mkdirSync(join(card, 'DCIM/100TARNA'), { recursive: true })
    copyFileSync(join(bay('TIDE'), 'DCIM/100TARNA/TARA0702.JPG'), join(card, 'DCIM/100TARNA/TARA0001.JPG'))
    appendFileSync(join(card, 'DCIM/100TARNA/TARA0001.JPG'), 'a frame of its own')
    putIn('SOLO')
    await page.goto('/bays')
    const row = page.getByRole('region', { name: 'Card SOLO' })
    await expect(row).toContainText('1 new')
    await row.getByRole('button', { name: 'Open sheet' }).click()
    await page.getByLabel('Name of entry 1').fill('Solo')
    await page.getByRole('combobox', { name: 'Shelf' }).click()
    await page.getByRole('option', { name: 'One drive' }).click()
    await expect(page.getByText('both on one drive: no second place if that fails')).toBeVisible()
    await page.getByRole('button', { name: 'Copy 1 frame' }).click()
    await expect(
      page.getByText(
        'SOLO is copied, not cleared. 1 frame is in two places, but on one drive: if it breaks, both are gone.',
      ),
    ).toBeVisible()
    await page.getByRole('link', { name: 'All of it, to print' }).click()
    await expect(page.getByText('Copied, not cleared: 1 frame is in two places, but on one drive')).toBeVisible()
    await page.goto('/bays')
    await row.getByRole('button', { name: 'One drive is enough for this card' }).click()
    await row.getByRole('button', { name: 'One drive is enough', exact: true }).click()
    await expect(row).toContainText('✓ Cleared')
    await expect(row).toContainText('in two places on one drive, which you said is enough')
  } finally {
    rmSync(bay('SOLO'), { recursive: true, force: true })
    rmSync(root, { recursive: true, force: true })
  }
})

test('a frame tells its custody, and a house style asks for a second digest', async ({ page }) => {
  await page.goto('/shoots')
  await page.getByRole('link', { name: /Tide clock/ }).click()
  await page.getByRole('option').nth(1).dblclick()
  await page.getByRole('button', { name: 'Custody' }).click()
  await expect(page.getByRole('dialog').getByRole('listitem')).toContainText(
    /DCIM\/100TARNA\/TARA0702\.JPG on TIDE was copied and verified: .* and .*, xxh128:[0-9a-f]{32}/,
  )
  await page.goto('/house-style')
  await page.getByRole('combobox', { name: 'Second digest' }).click()
  const kept = page.waitForResponse((response) => response.request().method() === 'PUT' && response.ok())
  await page.getByRole('option', { name: 'BLAKE2b' }).click()
  await kept
  await page.reload()
  await expect(page.getByRole('combobox', { name: 'Second digest' })).toContainText('BLAKE2b')
})
