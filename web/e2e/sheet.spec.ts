import { expect, test, type Page } from '@playwright/test'
import { entry, inHand, openNote } from './entries'
import { drives } from './home'

async function openSheet(page: Page, card: string): Promise<void> {
  await page.goto('/bays')
  await page
    .getByRole('region', { name: `Card ${card}`, exact: true })
    .getByRole('button', { name: 'Open sheet' })
    .click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Sheet/)
}

/** Back to where the sheet was when the test began: everything can be undone. */
async function undoAll(page: Page): Promise<void> {
  const sheet = page.url().replace('/sheets/', '/api/sheets/')
  for (let more = true; more;) {
    const answer = (await (await page.request.post(`${sheet}/edits`, { data: { do: 'undo' } })).json()) as {
      history: { undo: string | null }
    }
    more = answer.history.undo !== null
  }
}

test.afterEach(async ({ page }) => {
  if (page.url().includes('/sheets/')) await undoAll(page)
})

test('a time-lapse splits where its interval changes, is joined again, and all of it undone by keys', async ({
  page,
}) => {
  await openSheet(page, 'TIDE')
  await expect(entry(page, 1)).toContainText('Time-lapse, every 20 s')
  await openNote(page, 1, /^Time-lapse, every 20 s/)
  await expect(entry(page, 1)).toContainText('1 missed, after TARA0741')
  await (await openNote(page, 1, /^Interval changes/)).getByRole('button', { name: 'Begin an entry there' }).click()
  await expect(entry(page, 2)).toContainText('Time-lapse, every 10 s')
  await expect(entry(page, 2)).toContainText('19 frames')
  await (await inHand(page, 2)).getByRole('button', { name: 'Join with 1' }).click()
  await expect(entry(page, 2)).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(entry(page, 2)).toContainText('19 frames')
  await page.keyboard.press('Control+z')
  await expect(entry(page, 2)).toHaveCount(0)
  // what is shown may be the answer to an earlier edit: a reload must not overtake this one
  const redone = page.waitForResponse(
    (response) => response.url().endsWith('/edits') && response.request().postData() === '{"do":"redo"}',
  )
  await page.keyboard.press('Control+Shift+z')
  await redone
  await expect(entry(page, 2)).toContainText('19 frames')
  await page.reload()
  await expect(entry(page, 2)).toContainText('19 frames')
})

test('a time-lapse is played, over its change of interval, and stops at its marks', async ({ page }) => {
  await openSheet(page, 'TIDE')
  await (await openNote(page, 1, /^Time-lapse/)).getByRole('button', { name: 'Play it' }).click()
  const player = page.getByRole('dialog', { name: 'Time-lapse of entry 1' })
  const band = player.getByRole('slider', { name: 'Frame of the run' })
  // 72 frames at 25 a second: it runs by itself and ends at the last
  await expect(band).toHaveAttribute('aria-valuenow', '72')
  await expect(player.getByText('frames a second, 2.9 s long')).toBeVisible()
  await player.getByRole('button', { name: 'Again' }).click()
  await expect(band).not.toHaveAttribute('aria-valuenow', '72')
  await expect(band).toHaveAttribute('aria-valuenow', '72')
  await page.keyboard.press('Home')
  await page.keyboard.press('n')
  await expect(band).toHaveAttribute('aria-valuetext', /^frame 41 of 72/)
  await expect(player.getByText('a frame is missed after this one')).toBeVisible()
  await player.getByRole('button', { name: 'Next mark' }).click()
  await expect(player.getByText('interval changes to 10 s')).toBeVisible()
  await page.keyboard.press('ArrowLeft')
  await expect(band).toHaveAttribute('aria-valuenow', '53')
  const box = await band.boundingBox()
  if (!box) throw new Error('There is no band.')
  await page.mouse.click(box.x + box.width / 2, box.y + 20)
  await expect(band).toHaveAttribute('aria-valuenow', /^3[67]$/)
  await player.getByRole('combobox', { name: 'Frames a second' }).click()
  await page.getByRole('option', { name: '24' }).click()
  await expect(player.getByText('frames a second, 3.0 s long')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(player).toHaveCount(0)
})

test('a click on the tape begins an entry, a mark is dragged and moved by arrows', async ({ page }) => {
  await openSheet(page, 'TIDE')
  const tape = page.getByRole('img', { name: /72 frames over time/ })
  const box = await tape.boundingBox()
  if (!box) throw new Error('There is no tape.')
  await page.mouse.click(box.x + box.width * 0.5, box.y + 40)
  await expect(entry(page, 2)).toBeVisible()
  const before = await entry(page, 1).innerText()
  const mark = page.getByRole('button', { name: /^To entry 2/ })
  const grip = await mark.boundingBox()
  if (!grip) throw new Error('There is no mark.')
  await page.mouse.move(grip.x + 8, grip.y + 10)
  await page.mouse.down()
  await page.mouse.move(grip.x + 120, grip.y + 10, { steps: 6 })
  await page.mouse.up()
  await expect.poll(() => entry(page, 1).innerText()).not.toBe(before)
  const count = async () => Number(/(\d+) frames/.exec(await entry(page, 1).innerText())?.[1])
  const dragged = await count()
  await mark.focus()
  await page.keyboard.press('ArrowLeft')
  await expect.poll(count).toBe(dragged - 1)
  await mark.focus()
  await page.keyboard.press('j')
  await expect(entry(page, 2)).toHaveCount(0)
})

test('edits that a reload overtakes are done once each, in their order', async ({ page }) => {
  await openSheet(page, 'TIDE')
  const tape = page.getByRole('img', { name: /72 frames over time/ })
  const box = await tape.boundingBox()
  if (!box) throw new Error('There is no tape.')
  // the first is done by the server, whose answer never comes; the second waits for it on the page
  let done = 0
  await page.route('**/api/sheets/*/edits', async (route) => {
    await route.fetch()
    done++
  })
  await page.mouse.click(box.x + box.width * 0.3, box.y + 40)
  await expect(entry(page, 2)).toBeVisible()
  await page.mouse.click(box.x + box.width * 0.6, box.y + 40)
  await expect(entry(page, 3)).toBeVisible()
  await expect.poll(() => done).toBe(1)
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  await page.reload()
  await expect(entry(page, 3)).toBeVisible()
  await expect(entry(page, 4)).toHaveCount(0)
  const sheet = page.url().replace('/sheets/', '/api/sheets/')
  const entries = async () => ((await (await page.request.get(sheet)).json()) as { entries: unknown[] }).entries.length
  await expect.poll(entries).toBe(3)
})

test('what is typed names the entry that was meant, though another page splits one before it', async ({ page }) => {
  await openSheet(page, 'TIDE')
  const sheet = page.url().replace('/sheets/', '/api/sheets/')
  const tape = (await (await page.request.get(`${sheet}/tape`)).json()) as { entries: { frames: number[] }[] }
  const frames = tape.entries.flatMap((each) => each.frames)
  const split = (at: number) => page.request.post(`${sheet}/edits`, { data: { do: 'split', frame: frames[at] } })
  await split(-20 + frames.length)
  const name = (await inHand(page, 2)).getByRole('textbox', { name: 'Name of entry 2' })
  await page.route('**/entry', async (route) => {
    // it is on its way while the other page splits
    await split(10)
    await route.continue()
  })
  await name.pressSequentially('Ebb tide')
  await expect(entry(page, 3).getByRole('textbox', { name: 'Name of entry 3' })).toHaveValue('Ebb tide')
  await expect(entry(page, 3)).toContainText('20 frames')
  await page.unroute('**/entry')
  const names = async () => {
    const { entries } = (await (await page.request.get(sheet)).json()) as { entries: { name: string }[] }
    return entries.map((each) => each.name)
  }
  await expect.poll(names).toEqual(['', '', 'Ebb tide'])
})

test('frames are selected by click, range, key and rectangle, left out, taken back and moved', async ({ page }) => {
  await openSheet(page, 'KILN')
  const last = await inHand(page, 3)
  await (await openNote(page, 3, /look black/)).getByRole('button', { name: 'Leave them out' }).click()
  await expect(page.getByText('2 left out')).toBeVisible()
  await last.getByRole('button', { name: 'Contact sheet' }).click()
  await page.getByRole('option', { name: /TARA0352/ }).click()
  await page.getByRole('option', { name: /TARA0355/ }).click({ modifiers: ['Shift'] })
  const bar = page.getByRole('region', { name: 'Selection' })
  await expect(bar).toContainText('4 frames selected')
  await page.getByRole('option', { name: /TARA0353/ }).click({ modifiers: ['Control'] })
  await expect(bar).toContainText('3 frames selected')
  await bar.getByRole('button', { name: 'Leave out' }).click()
  await expect(page.getByText('5 left out')).toBeVisible()
  await expect(page.getByRole('option', { name: /TARA0352.*left out/ })).toBeVisible()
  await page.getByRole('option', { name: /TARA0352/ }).click()
  await page.keyboard.press('l')
  await expect(page.getByText('4 left out')).toBeVisible()
  // two keys before the screen is painted: it follows the last one
  const frames = page.getByRole('listbox', { name: /^Contact sheet/ })
  await frames.evaluate((list) => {
    for (const key of ['End', 'Home'])
      list.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
  })
  await expect(frames.getByRole('option').first()).toBeInViewport()
  const a = await page.getByRole('option', { name: /TARA0351/ }).boundingBox()
  const b = await page.getByRole('option', { name: /TARA0358/ }).boundingBox()
  if (!a || !b) throw new Error('There are no frames.')
  await page.mouse.move(a.x + 4, a.y + 4)
  await page.mouse.down()
  await page.mouse.move(b.x + b.width / 2, b.y + 20, { steps: 8 })
  await page.mouse.up()
  await expect(bar).toContainText('4 frames selected')
  await bar.getByRole('combobox', { name: 'Move to entry' }).click()
  await page.getByRole('option', { name: 'a new entry' }).click()
  await expect(entry(page, 4)).toBeVisible()
})

test('frames are selected at one stroke by kind, by what they look like and by what becomes of them', async ({
  page,
}) => {
  await openSheet(page, 'KILN')
  const last = await inHand(page, 3)
  await last.getByRole('button', { name: 'Contact sheet' }).click()
  const bar = page.getByRole('region', { name: 'Selection' })
  const select = async (group: RegExp) => {
    await last.getByRole('button', { name: 'Select', exact: true }).click()
    await page.getByRole('menuitem', { name: group }).click()
  }
  await select(/^looks black/)
  await expect(bar).toContainText('2 frames selected')
  await bar.getByRole('button', { name: 'Leave out' }).click()
  await expect(page.getByText('2 left out')).toBeVisible()
  await select(/^left out/)
  await expect(bar).toContainText('2 frames selected')
  await select(/^all frames/)
  await expect(bar).toContainText(/\d\d frames selected/)
})

test('a clock that runs apart is set from the hint, and from two frames of one moment', async ({ page }) => {
  await openSheet(page, 'LANTERN')
  const clocks = page.getByRole('region', { name: 'Clocks' })
  await expect(page.getByText(/Heron 3 seems 5\d min slow/)).toBeVisible()
  await page.getByRole('button', { name: 'set its clock' }).click()
  await expect(page.getByText(/min slow/)).toHaveCount(0)
  await page.getByRole('button', { name: 'Clocks' }).click()
  await expect(clocks).toContainText('Heron 3')
  await expect(clocks.getByLabel(/Correction of Heron 3/)).toHaveValue(/^\+0:5\d:\d\d$/)
  await clocks.getByLabel(/Correction of Heron 3/).fill('+0:58')
  await clocks.getByLabel(/Correction of Heron 3/).press('Enter')
  await expect(clocks.getByLabel(/Correction of Heron 3/)).toHaveValue('+0:58:00')
  await (await inHand(page, 1)).getByRole('button', { name: 'Contact sheet' }).click()
  const offer = page.getByRole('button', { name: /These show the same moment: set the clock of Heron 3/ })
  await expect(async () => {
    // the frames move to their new places when the answer comes, maybe under the pointer
    await page.getByRole('option', { name: /TARA9962/ }).click()
    await page
      .getByRole('option', { name: /TARB/ })
      .first()
      .click({ modifiers: ['Control'] })
    await expect(offer).toBeVisible({ timeout: 1_000 })
  }).toPass()
  await offer.click()
  await expect(clocks.getByLabel(/Correction of Heron 3/)).not.toHaveValue('+0:58:00')
})

test('how frames are divided and what comes along is chosen on the sheet', async ({ page }) => {
  await openSheet(page, 'KILN')
  await expect(entry(page, 3)).toBeVisible()
  await page.getByRole('combobox', { name: 'Split' }).click()
  await page.getByRole('option', { name: 'never' }).click()
  await expect(entry(page, 2)).toHaveCount(0)
  await page.getByRole('button', { name: /^Undo: another division/ }).click()
  await expect(entry(page, 3)).toBeVisible()
  await page.getByLabel('The day starts at').fill('25:99')
  await expect(page.getByText('a time, as in 04:00')).toBeVisible()
  await page.getByLabel('The day starts at').fill('04:00')
  const sum = page.locator('footer')
  const whole = await sum.innerText()
  await page.getByRole('combobox', { name: 'Copy', exact: true }).click()
  await page.getByRole('option', { name: 'JPEG only' }).click()
  await expect.poll(() => sum.innerText()).not.toBe(whole)
})

test('a house style is edited by chips, refused in a sentence, and followed by a sheet', async ({ page }) => {
  await page.goto('/house-style')
  await page.getByRole('button', { name: 'New from this' }).click()
  await expect(page.getByLabel('Name of the style')).toHaveValue('Standard, changed')
  // what is not set takes a word in a quiet line, which opens its field
  await expect(page.getByLabel('time-lapses in')).toHaveCount(0)
  await page.getByRole('button', { name: 'time-lapses', exact: true }).click()
  await page.getByLabel('time-lapses in').fill('Runs')
  await expect(page.getByRole('button', { name: 'time-lapses', exact: true })).toHaveCount(0)
  const file = page.getByRole('group', { name: 'File name' })
  await file.getByRole('button', { name: /^Counter/ }).focus()
  await page.keyboard.press('Delete')
  await expect(page.getByText('tells two frames of a shoot apart')).toBeVisible()
  await file.getByRole('button', { name: /Add a piece/ }).click()
  await page.getByRole('menuitem', { name: 'Original name' }).click()
  await expect(page.getByText('tells two frames of a shoot apart')).toHaveCount(0)
  await expect(page.getByRole('region', { name: 'Samples' })).toContainText(/_TARA\d{4}\.(jpg|trw)/)
  await file.getByRole('button', { name: /^Original name/ }).focus()
  await page.keyboard.press('Control+ArrowLeft')
  await expect(file.getByRole('status').filter({ hasText: /is piece \d of \d now/ })).toHaveCount(1)
  // dragged to the front by the mouse, and back by a finger's way: the keyboard
  const chips = file.locator('[data-chip]')
  const last = await chips.last().getAttribute('aria-label')
  await chips.last().scrollIntoViewIfNeeded()
  const [from, to] = [await chips.last().boundingBox(), await chips.first().boundingBox()]
  if (!from || !to) throw new Error('There are no chips to drag.')
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(to.x + 4, to.y + to.height / 2, { steps: 8 })
  await page.mouse.up()
  await expect(chips.first()).toHaveAttribute('aria-label', last ?? '')
  await expect(page.getByRole('button', { name: 'Done' })).toHaveCount(0) // it was dragged, not opened
  await chips.first().focus()
  for (let n = await chips.count(); n > 1; --n) await page.keyboard.press('Control+ArrowRight')
  await expect(chips.last()).toHaveAttribute('aria-label', last ?? '')
  await file.getByRole('button', { name: /^Day of the shoot/ }).click()
  await page.getByRole('textbox', { name: 'Pattern' }).fill('yyMMdd')
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.getByRole('region', { name: 'Samples' })).toContainText(/26\d{4}_/)
  await page.reload()
  await page.getByRole('combobox', { name: 'Which style' }).click()
  await page.getByRole('option', { name: 'Standard, changed' }).click()
  await expect(page.getByRole('region', { name: 'Samples' })).toContainText(/26\d{4}_/)
  await openSheet(page, 'TIDE')
  await page.getByRole('combobox', { name: 'House style' }).click()
  await page.getByRole('option', { name: 'Standard, changed' }).click()
  await expect(entry(page, 1)).toContainText(/260504_.*TARA0701\.jpg/)
  await page.getByRole('button', { name: /^Undo: house style/ }).click()
  await expect(entry(page, 1)).toContainText('2026-05-04_0001.jpg')
  await page.goto('/house-style')
  await page.getByRole('combobox', { name: 'Which style' }).click()
  await page.getByRole('option', { name: 'Standard, changed' }).click()
  await page.getByRole('button', { name: 'Delete this style' }).click()
  const sure = page.getByRole('alertdialog', { name: 'Delete this style' })
  await expect(sure.getByRole('button', { name: 'Cancel' })).toBeFocused()
  await sure.getByRole('button', { name: 'Delete it' }).click()
  await expect(page.getByLabel('Name of the style')).toHaveValue('Standard')
})

test('a shelf is chosen by looking, and refused where it cannot be', async ({ page }) => {
  await page.goto('/bays')
  await page.getByRole('button', { name: 'Add a shelf' }).click()
  const form = page.getByRole('region', { name: 'A new shelf' })
  await form.getByLabel('Name of the shelf').fill('Weddings')
  await form.getByLabel('The shelf’s folder').fill('/nowhere')
  await form.getByLabel('The shelf’s folder').press('Enter')
  await expect(form).toContainText('The folder “/nowhere” is not there')
  await form.getByRole('button', { name: 'Add this shelf' }).click()
  await expect(form.getByRole('alert')).toContainText('Connect its drive')
  await form.getByLabel('The shelf’s folder').fill('/')
  await form.getByLabel('The shelf’s folder').press('Enter')
  await form.getByRole('button', { name: 'drives', exact: true }).click()
  await form.getByRole('button', { name: 'Twin', exact: true }).click()
  await expect(form.getByLabel('The shelf’s folder')).toHaveValue(drives.twin)
  await form.getByRole('button', { name: 'Cancel' }).click()
  await expect(form).toHaveCount(0)
})

test('a sheet without a shelf leads to where one is added', async ({ page }) => {
  // the demo has a shelf: the answer is told as if there were none
  await page.route(/\/api\/sheets\/\d+$/, async (route) => {
    const response = await route.fetch()
    const sheet = (await response.json()) as object
    await route.fulfill({
      response,
      json: { ...sheet, shelf: null, rooms: [], waits_for: 'There is no shelf to copy to yet.' },
    })
  })
  await openSheet(page, 'TIDE')
  await expect(page.getByText('There is no shelf to copy to yet.')).toBeVisible()
  await page.getByRole('link', { name: 'Add a shelf' }).click()
  await expect(page.getByRole('region', { name: 'A new shelf' }).getByLabel('Name of the shelf')).toBeFocused()
})

test('two cards on one sheet share its entries by time', async ({ page }) => {
  await page.goto('/bays')
  await page.getByLabel('KILN together with another card').check()
  await page.getByLabel('TIDE together with another card').check()
  await page.getByRole('button', { name: 'Open one sheet for KILN and TIDE' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Sheet/)
  await expect(page.getByText('Cards KILN and TIDE')).toBeVisible()
  await expect(entry(page, 4)).toContainText('Time-lapse, every 20 s')
})
