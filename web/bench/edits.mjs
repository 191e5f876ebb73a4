// Opens the sheet of a card and measures in the browser how long an edit takes to be seen, and to be answered by the
// server.
// Called by ./velvet bench edits.
//   node edits.mjs ADDRESS CARD BAY
import { chromium } from '@playwright/test'
import { renameSync } from 'node:fs'
import { basename, join } from 'node:path'
import { stdout } from 'node:process'
import { CHROMIUM } from '../chromium.mjs'

const TIMES = 5

const [address, card, bay] = process.argv.slice(2)
const browser = await chromium.launch(CHROMIUM)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const label = basename(card)
await page.goto(`${address}bays`)
await page.getByRole('heading', { level: 1 }).waitFor()
renameSync(card, join(bay, label))
const row = page.getByRole('region', { name: `Card ${label}`, exact: true })
await row.getByRole('button', { name: 'Open sheet' }).and(page.locator(':enabled')).waitFor({ timeout: 300_000 })
await row.getByRole('button', { name: 'Open sheet' }).click()
await page.waitForURL(/\/sheets\/\d+$/)
// the pictures are drawn in the background; edits are measured when that is done
const tape = page.url().replace('/sheets/', '/api/sheets/') + '/tape'
for (;;) {
  const { entries } = await (await fetch(tape)).json()
  if (!entries.some((entry) => entry.brightness.includes(null))) break
  await new Promise((done) => {
    setTimeout(done, 1000)
  })
}
await page.reload()
const first = page.getByRole('region', { name: 'Entry 1', exact: true })
await first.getByRole('button', { name: 'Contact sheet' }).click()
await first
  .getByRole('listbox', { name: /^Contact sheet/ })
  .getByRole('option')
  .nth(5)
  .click()

/** Presses a key and waits until the page shows what it does; then until the server has answered. */
async function measured(press, shows) {
  const answered = page.waitForResponse(
    (response) => response.request().method() !== 'GET' && response.url().includes('/api/sheets/'),
  )
  await page.evaluate(([css, wanted]) => {
    window.seen = new Promise((resolve) => {
      const pressed = (event) => {
        if (event.key === 'Control') return
        window.removeEventListener('keydown', pressed, { capture: true })
        const since = performance.now()
        const look = () => {
          if (document.querySelectorAll(css).length === wanted) resolve(performance.now() - since)
          else requestAnimationFrame(look)
        }
        requestAnimationFrame(look)
      }
      window.addEventListener('keydown', pressed, { capture: true })
    })
  }, shows)
  const since = performance.now()
  await press()
  const millis = await page.evaluate(() => window.seen)
  await answered
  const server = performance.now() - since
  await page.waitForTimeout(600) // what the answer makes the page fetch again
  return { seen: millis, server }
}

const ENTRIES = 'section[id^=entry-]'
const entries = await page.locator(ENTRIES).count()
const results = { split: [], undo: [], 'leave out': [], 'take back': [] }
for (let n = 0; n < TIMES; n++) {
  await first
    .getByRole('listbox', { name: /^Contact sheet/ })
    .getByRole('option')
    .nth(5)
    .click()
  results.split.push(await measured(() => page.keyboard.press('b'), [ENTRIES, entries + 1]))
  results.undo.push(await measured(() => page.keyboard.press('Control+z'), [ENTRIES, entries]))
  const out = '#entry-1 [role=listbox][aria-label^=Contact] [role=option][aria-label*="left out"]'
  await first
    .getByRole('listbox', { name: /^Contact sheet/ })
    .getByRole('option')
    .nth(5)
    .click()
  results['leave out'].push(await measured(() => page.keyboard.press('l'), [out, 1]))
  results['take back'].push(await measured(() => page.keyboard.press('l'), [out, 0]))
}
stdout.write(JSON.stringify(results))
renameSync(join(bay, label), card)
await browser.close()
