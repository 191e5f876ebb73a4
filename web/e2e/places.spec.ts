import { expect, test, type Locator, type Page, type Route } from '@playwright/test'
import { refusedBy } from './axe'
import { inHand } from './entries'
import { kill, putIn, takeOut, unplug } from './home'

async function openKiln(page: Page): Promise<void> {
  await page.goto('/bays')
  await page.getByRole('region', { name: 'Card KILN' }).getByRole('button', { name: 'Open sheet' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Sheet/)
}

test('a card that is put in appears by itself, and goes when it is taken out', async ({ page }) => {
  await page.goto('/bays')
  const row = page.getByRole('region', { name: 'Card LANTERN_2' })
  await expect(page.getByRole('region', { name: 'Card KILN' })).toBeVisible()
  await expect(row).toHaveCount(0)
  putIn('LANTERN_2')
  await expect(row).toContainText('80')
  await expect(row.getByRole('button', { name: /Open sheet/ })).toBeEnabled()
  takeOut('LANTERN_2')
  await expect(row).toHaveCount(0)
  // and by the page's own hand
  await page.getByRole('region', { name: 'Demo tray' }).getByRole('button', { name: 'Put in' }).click()
  await expect(row).toBeVisible()
  await row.getByRole('button', { name: 'Eject' }).click()
  await expect(row).toHaveCount(0)
})

test('what is typed survives a reload, and the samples follow the typing', async ({ page }) => {
  await openKiln(page)
  await expect(page.getByText('23 already filed').first()).toBeVisible()
  await expect(page.getByText('2026/2026-04-30 Kiln opening, Saltmarsh Pottery')).toBeVisible()
  await page.getByLabel('Name of entry 2').fill('Kiln: second day')
  await page.reload()
  await expect(page.getByLabel('Name of entry 2')).toHaveValue('Kiln: second day')
  await inHand(page, 2)
  await expect(page.getByRole('region', { name: 'Entry 2', exact: true })).toContainText(
    '2026/2026-05-01 Kiln - second day',
  )
  await expect(page.getByRole('region', { name: 'Entry 2', exact: true })).toContainText(
    '2026-05-01_kiln-second-day_0001.jpg',
  )
})

test('losing the network freezes no page, and an answer that does not come is told', async ({ page }) => {
  await page.goto('/bays')
  await expect(page.getByRole('region', { name: 'Card KILN' })).toBeVisible()
  await page.evaluate(() => window.dispatchEvent(new Event('offline')))
  await page.getByRole('link', { name: 'Shoots', exact: true }).click()
  await expect(page.getByRole('link', { name: /Kiln opening/ })).toBeVisible()
  await page.getByRole('link', { name: 'Ledger', exact: true }).click()
  const asks = page.getByRole('button', { name: 'Back up now' })
  await expect(asks).toBeEnabled()
  const answers = (url: URL) => url.pathname === '/api/backups'
  await page.route(answers, (route) =>
    route.request().method() === 'GET'
      ? route.fulfill({
          status: 500,
          contentType: 'application/problem+json',
          body: JSON.stringify({ detail: 'The shelf of books fell over.' }),
        })
      : route.continue(),
  )
  await asks.click() // the feed tells when it is made, and the page asks again
  await expect(page.getByRole('alert')).toContainText('The shelf of books fell over. What you see here may be old.')
  await page.unroute(answers)
  await page.getByRole('button', { name: 'Ask again' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(asks).toBeEnabled()
  await expect(page.getByRole('region', { name: 'Backup of the ledger' })).toContainText('Last backup just now')
})

test('what was typed into the house style is kept when another place is clicked, and no number is none', async ({
  page,
}) => {
  await page.goto('/house-style')
  await page.getByLabel('gaps in minutes').fill('soon')
  await expect(page.getByRole('alert')).toContainText('a whole number from 1 to 10,080, please; “soon” is not kept')
  const kept = page.waitForResponse(
    (response) =>
      response.request().method() === 'PUT' && (response.request().postData() ?? '').includes('"IVH"') && response.ok(),
  )
  await page.getByLabel('initials').fill('IVH')
  await page.getByRole('link', { name: 'Bays', exact: true }).click() // at once
  await page.getByRole('link', { name: 'House style', exact: true }).click()
  await expect(page.getByLabel('initials')).toHaveValue('IVH')
  await kept // what a page asks for as it is loaded may overtake what the page before it sent
  await page.reload()
  await expect(page.getByLabel('initials')).toHaveValue('IVH')
  await expect(page.getByLabel('gaps in minutes')).toHaveValue('')
  // also what was sent already, and is answered late
  await page.route('**/api/styles/*', async (route) => {
    if (route.request().method() === 'PUT') await new Promise((resolve) => setTimeout(resolve, 2_000))
    await route.continue()
  })
  const sent = page.waitForRequest((request) => request.method() === 'PUT')
  await page.getByLabel('initials').fill('IV')
  await sent
  await page.getByRole('link', { name: 'Bays', exact: true }).click()
  await page.getByRole('link', { name: 'House style', exact: true }).click()
  await expect(page.getByLabel('initials')).toHaveValue('IV')
  await page.unrouteAll({ behavior: 'wait' })
  await page.getByLabel('initials').fill('')
  await page.getByRole('link', { name: 'Bays', exact: true }).click()
})

/** By the tab key, as somebody without a mouse comes there. */
async function tabTo(page: Page, place: Locator): Promise<void> {
  for (let stops = 0; stops < 80; stops++) {
    await page.keyboard.press('Tab')
    if (await place.evaluateAll((all) => all.some((element) => element === document.activeElement))) return
  }
  throw new Error('The tab key does not come there.')
}

/** The frame that the keys act on. */
async function handIn(frames: Locator): Promise<Locator> {
  await expect(frames).toHaveAttribute('aria-activedescendant', /./)
  const id = await frames.getAttribute('aria-activedescendant')
  return frames.locator(`[id="${id}"]`)
}

test('the sheet works by keyboard', async ({ page }) => {
  await openKiln(page)
  const entry = await inHand(page, 3)
  const strip = page.getByRole('listbox', { name: 'Frames of entry 3' })
  const sheet = page.getByRole('listbox', { name: 'Contact sheet of entry 3' })
  await tabTo(page, strip)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await expect(strip).toBeFocused() // one stop, however many frames
  await expect(await handIn(strip)).toHaveAttribute('aria-posinset', '3')
  await expect(await handIn(strip)).toHaveAttribute('aria-setsize', '29')
  await page.keyboard.press('Space')
  const look = page.getByRole('dialog')
  await expect(look).toContainText('3 of 29')
  await expect(look).toContainText('1/60 s · f/5.6 · ISO 200 · 50 mm')
  await page.keyboard.press('ArrowRight')
  await expect(look).toContainText('4 of 29')
  await page.keyboard.press('Escape')
  await expect(look).toHaveCount(0)
  await expect(strip).toBeFocused()
  // keys act on frames that have not come yet
  const held: Route[] = []
  let holds = true
  await page.route('**/frames?of=*', async (route) => {
    if (holds) held.push(route)
    else await route.continue()
  })
  await page.keyboard.press('Enter')
  await expect(sheet).toBeFocused()
  await page.keyboard.press('End')
  await expect(await handIn(sheet)).toHaveAttribute('aria-posinset', '29')
  await page.keyboard.press('b')
  await expect(entry).toContainText('28 frames')
  holds = false
  for (const route of held) await route.continue()
  await expect(sheet).toBeFocused()
  await page.keyboard.press('Control+z')
  await expect(entry).toContainText('29 frames')
  await page.keyboard.press('Escape')
  await expect(strip).toBeFocused()
  await page.getByLabel('Name of entry 2').focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of entry 3')).toBeFocused()
  await page.keyboard.press('Escape')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('/')
  await expect(page.getByLabel('Search the shoots')).toBeFocused()
})

test('edits that are answered late stand on the page at once, and what was refused stays to be read', async ({
  page,
}) => {
  await openKiln(page)
  const entries = page.getByRole('region', { name: /^Entry \d+$/ })
  await expect(entries).toHaveCount(3)
  await (await inHand(page, 2)).getByRole('button', { name: 'Contact sheet' }).click()
  const held: (() => Promise<void>)[] = []
  await page.route('**/api/sheets/*/edits', (route) => {
    const [n, refuses] = [held.length, held.length === 1]
    held.push(() =>
      refuses ? route.fulfill({ status: 409, json: { detail: `Edit ${n + 1} came too late.` } }) : route.continue(),
    )
  })
  const split = async (entry: number, frame: number) => {
    const frames = entries
      .nth(entry - 1)
      .getByRole('listbox', { name: /^Contact sheet/ })
      .getByRole('option')
    await frames.nth(frame).click()
    await page.keyboard.press('b')
  }
  await split(2, 9)
  await expect(entries).toHaveCount(4)
  await split(2, 4)
  await expect(entries).toHaveCount(5)
  await expect(entries.nth(1)).toContainText('4 frames')
  await held[0]?.()
  await expect.poll(() => held.length).toBe(2) // sent when the one before was answered
  await expect(entries).toHaveCount(5)
  await held[1]?.()
  await expect(page.getByRole('alert')).toContainText('Edit 2 came too late.')
  await expect(entries).toHaveCount(4)
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect.poll(() => held.length).toBe(3)
  await held[2]?.()
  await expect(entries).toHaveCount(3)
  await expect(page.getByRole('alert')).toContainText('Edit 2 came too late.')
  await page.getByRole('alert').getByRole('button', { name: 'Dismiss' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
})

test('what stands beneath the frames is a choice, and unknowns are said', async ({ page }) => {
  await openKiln(page)
  await (await inHand(page, 2)).getByRole('button', { name: 'Contact sheet' }).click()
  const dated = page.getByRole('option', { name: /TARA0324/ })
  await expect(dated).toContainText('1/60 s · f/5.6 · ISO 200')
  await expect(page.getByRole('option', { name: /BY HAND/ })).toContainText('No camera data')
  await page.getByRole('button', { name: /Captions/ }).press('Enter')
  for (const fact of ['Time', 'Exposure time', 'Aperture'])
    await page.getByRole('menuitemcheckbox', { name: fact, exact: true }).click()
  await page.keyboard.press('Escape')
  await expect(dated).toContainText('09:40:05 · ISO 200')
  await page.reload()
  await (await inHand(page, 2)).getByRole('button', { name: 'Contact sheet' }).click()
  await expect(dated).toContainText('09:40:05 · ISO 200')
})

test('blurred frames are hinted at, and a closer look has its neighbours ready', async ({ page }) => {
  await openKiln(page)
  const entry = await inHand(page, 3)
  await expect(entry).toContainText('2 look blurred')
  const fetched = { 1024: new Set<string>(), 2560: new Set<string>() }
  page.on('requestfinished', (request) => {
    const [, size, picture] = /pictures\/(1024|2560)\/(.*)\.jpg/.exec(request.url()) ?? []
    if (picture !== undefined) fetched[size as '1024' | '2560'].add(picture)
  })
  await entry.getByRole('button', { name: 'Contact sheet' }).click()
  await page.getByRole('option', { name: /TARA0371/ }).dblclick()
  await expect(page.getByRole('dialog')).toContainText('TARA0371')
  await expect.poll(() => fetched[1024].size).toBe(6) // the frame, two before it and three behind
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('dialog')).toContainText('TARA0372')
  await expect.poll(() => fetched[1024].size).toBe(7) // only one further out was missing
  expect(fetched[2560].size).toBe(0) // this window has no use for more pixels than these have
  await page.setViewportSize({ width: 1920, height: 1080 })
  await expect.poll(() => fetched[2560].size).toBeGreaterThan(0)
})

test('the button says why it waits when a drive is gone', async ({ page }) => {
  const plug = unplug('Twin')
  try {
    await openKiln(page)
    await page.getByLabel('Name of entry 2').fill('Kiln')
    await page.getByLabel('Name of entry 3').fill('Kiln')
    await expect(page.getByText(/The twin “.*Twin” is not connected/)).toBeVisible()
    await expect(page.getByRole('button', { name: /^Copy/ })).toBeDisabled()
  } finally {
    plug()
  }
})

test('the page hears of happenings again after the event server was killed', async ({ page }) => {
  await page.goto('/bays')
  await expect(page.getByRole('region', { name: 'Card KILN' })).toBeVisible()
  kill('pages:events')
  putIn('LANTERN_2')
  await expect(page.getByRole('region', { name: 'Card LANTERN_2' })).toContainText('80', { timeout: 30_000 })
  takeOut('LANTERN_2')
})

test('more pages than a browser has connections to a host hear what happens, by one of them', async ({ context }) => {
  const pages = await Promise.all(Array.from({ length: 8 }, () => context.newPage()))
  for (const page of pages) {
    await page.goto('/bays')
    await expect(page.getByRole('region', { name: 'Card KILN', exact: true })).toBeVisible()
  }
  takeOut('KILN')
  for (const page of pages) await expect(page.getByRole('region', { name: 'Card KILN', exact: true })).toHaveCount(0)
  // the page that was there first goes, and the others hear on
  await pages[0]?.close()
  putIn('KILN')
  for (const page of pages.slice(1))
    await expect(page.getByRole('region', { name: 'Card KILN', exact: true })).toBeVisible()
})

test('with no card in, the bays say what to do', async ({ page }) => {
  await page.route('**/api/bays', async (route) => {
    const answer = (await (await route.fetch()).json()) as { cards: unknown[] }
    await route.fulfill({ json: { ...answer, cards: [], tray: null } })
  })
  await page.goto('/bays')
  await expect(page.getByText('Put a card into its reader')).toBeVisible()
  expect(await refusedBy(page, 'empty bays')).toEqual([])
  await page.unrouteAll({ behavior: 'wait' })
})

test('when the server refuses, the page says so in a sentence', async ({ page }) => {
  await page.goto('/sheets/9999')
  await expect(page.getByRole('alert')).toHaveText('There is no sheet 9999.')
  expect(await refusedBy(page, 'a refusal')).toEqual([])
})

for (const theme of ['day', 'evening']) {
  test(`every place is accessible in the ${theme} theme`, async ({ page }) => {
    test.slow() // axe looks at thirteen pages
    await page.addInitScript((kept) => {
      localStorage.setItem('velvet-theme', kept)
    }, theme)
    await openKiln(page)
    const sheet = new URL(page.url()).pathname
    for (const path of ['/bays', '/shoots', '/shoots/1', '/ledger', '/sheets/1', '/house-style', '/handbook', sheet]) {
      await page.goto(path)
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
      expect(await refusedBy(page, path)).toEqual([])
    }
    // and with what opens on it
    const entry = await inHand(page, 3)
    await entry.getByRole('button', { name: 'Contact sheet' }).click()
    await page.getByRole('option', { name: /TARA0363/ }).click()
    expect(await refusedBy(page, 'contact sheet with a selection')).toEqual([])
    await page.keyboard.press('Space')
    await expect(page.getByRole('dialog')).toBeVisible()
    expect(await refusedBy(page, 'closer look')).toEqual([])
    await page.keyboard.press('Escape')
    await page.keyboard.press('?')
    await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
    expect(await refusedBy(page, 'keys')).toEqual([])
    await page.keyboard.press('Escape')
    await page.goto('/house-style')
    const file = page.getByRole('group', { name: 'File name' })
    await file.getByRole('button', { name: /Add a piece/ }).click()
    await expect(page.getByRole('menuitem', { name: 'Original name' })).toBeVisible()
    // the arrows go through it and scroll it: the tab key has no business there
    expect(await refusedBy(page, 'the menu of pieces', ['scrollable-region-focusable'])).toEqual([])
    await page.keyboard.press('Escape')
    await file.getByRole('button', { name: /^Day of the shoot/ }).click()
    await expect(page.getByRole('textbox', { name: 'Pattern' })).toBeVisible()
    expect(await refusedBy(page, 'a piece')).toEqual([])
  })
}

test('the handbook is opened from the keys, searched, and leads on by its links', async ({ page }) => {
  await page.goto('/ledger')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.keyboard.press('?')
  await page.getByRole('link', { name: 'Open the handbook' }).click()
  await expect(page).toHaveTitle('Handbook · Velvet Ledger')
  await expect(page.getByRole('heading', { level: 2 })).toHaveText('The first card')
  const picture = page.getByRole('img', { name: 'A sheet, its third entry in hand' })
  await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(1280)
  await page.getByRole('article').getByRole('link', { name: 'Bays' }).click()
  await expect(page).toHaveURL(/\/handbook\/bays$/)
  await expect(page.getByRole('heading', { level: 2 })).toHaveText('Bays')
  await page.getByLabel('Search the handbook').fill('second slot')
  await page.getByRole('list', { name: 'Found' }).getByRole('link', { name: 'Bays, A card’s row' }).click()
  await expect(page.getByRole('heading', { name: 'A card’s row' })).toBeInViewport()
  await page.goto('/handbook/first-look')
  const sections = page.getByRole('navigation', { name: 'On this page' })
  await sections.getByRole('link', { name: 'Another pass' }).click()
  await expect(page.getByRole('heading', { name: 'Another pass' })).toBeInViewport()
  await expect(sections).toBeInViewport()
  await page.goto('/handbook/nowhere')
  await expect(page.getByText('There is no such page.')).toBeVisible()
})

test('nothing is cut or runs out of the window, from 320 to 1920 px', async ({ page }) => {
  await openKiln(page)
  const sheet = new URL(page.url()).pathname
  const out: string[] = []
  for (const path of [
    '/bays',
    sheet,
    '/shoots',
    '/shoots/1',
    '/ledger',
    '/house-style',
    '/house-style/keywords',
    '/handbook/sheet',
  ]) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    for (const width of [320, 390, 820, 1280, 1920]) {
      await page.setViewportSize({ width, height: 800 })
      const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)
      if (over > 0) out.push(`${path} at ${width} px: ${over} px`)
    }
  }
  expect(out).toEqual([])
})

test('a movie shows a still and its length, and is sent piece by piece', async ({ page }) => {
  await openKiln(page)
  await expect(await inHand(page, 2)).toContainText('movie')
  const id = new URL(page.url()).pathname.split('/').at(-1) ?? ''
  const answer = await page.request.get(`/api/sheets/${id}/entries/2/frames?limit=100`)
  const { frames } = (await answer.json()) as {
    frames: { name: string; picture: string | null; facts: { seconds?: number; frames_per_second?: number } }[]
  }
  const movie = frames.find(({ name }) => name === 'TARA0401')
  expect(movie?.facts).toMatchObject({ seconds: 2, frames_per_second: 6 })
  const picture = movie?.picture ?? ''
  for (const size of [320, 2560]) {
    const still = await page.request.get(`/pictures/${size}/${picture.slice(0, 2)}/${picture.slice(2)}.jpg`)
    expect(still.headers()['content-type']).toBe('image/jpeg')
  }
  const piece = await page.request.get(`/api/recordings/${picture}`, { headers: { Range: 'bytes=4-7' } })
  expect([piece.status(), await piece.text()]).toEqual([206, 'ftyp'])
})
