// Opens the sheet of a card and measures in Debian's Chromium what a person waits for: the first page, the sheet, the
// next frame of the contact sheet, an entry begun, and the contact sheet scrolled.
// Called by ./velvet bench screens.
//   node screens.mjs ADDRESS CARD BAY
import { chromium } from '@playwright/test'
import { renameSync } from 'node:fs'
import { basename, join } from 'node:path'
import { stdout } from 'node:process'
import { CHROMIUM } from '../chromium.mjs'
import { equipPainted } from './painted.mjs'

const [KEYS, SPLITS, SCROLLS] = [60, 15, 60]

const [address, card, bay] = process.argv.slice(2)
const label = basename(card)
const browser = await chromium.launch(CHROMIUM)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.addInitScript(equipPainted)
const network = await page.context().newCDPSession(page)
await network.send('Network.enable')
let received = 0
/** Questions to the server that are on their way. */
const asked = new Set()
page.on('request', (request) => {
  if (request.resourceType() === 'fetch') asked.add(request)
})
page.on('requestfinished', (request) => asked.delete(request))
page.on('requestfailed', (request) => asked.delete(request))
page.on('framenavigated', () => {
  asked.clear()
})
network.on('Network.loadingFinished', ({ encodedDataLength }) => {
  received += encodedDataLength
})

// the first load: code, styles and letters, as they come over the wire
await page.goto(`${address}bays`)
await page.getByRole('heading', { level: 1, name: 'Bays' }).waitFor()
await page.waitForTimeout(1000)
const code = await page.evaluate(() =>
  performance
    .getEntriesByType('resource')
    .filter(({ name }) => /\.(js|css)$/.test(name))
    .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0),
)
const firstLoad = received

renameSync(card, join(bay, label))
const row = page.getByRole('region', { name: `Card ${label}`, exact: true })
const open = row.getByRole('button', { name: 'Open sheet' }).and(page.locator(':enabled'))
await open.waitFor({ timeout: 900_000 })
await open.click()
await page.waitForURL(/\/sheets\/\d+$/)
// the pictures are drawn in the background; screens are measured when that is done
const api = page.url().replace('/sheets/', '/api/sheets/')
for (;;) {
  const { entries } = await (await fetch(`${api}/tape`)).json()
  if (!entries.some((entry) => entry.brightness.includes(null))) break
  await new Promise((done) => {
    setTimeout(done, 2000)
  })
}
const sheet = (await (await fetch(api)).arrayBuffer()).byteLength
const tape = (await (await fetch(`${api}/tape`)).arrayBuffer()).byteLength

await page.reload()
const first = page.getByRole('region', { name: 'Entry 1', exact: true })
await first.getByRole('button', { name: 'Contact sheet' }).click()
const contact = first.getByRole('listbox', { name: /^Contact sheet/ })
await contact.getByRole('option').nth(5).click()
await page.evaluate(() => {
  /** Milliseconds from a key to the end of the frame in which the page shows what it does. */
  const until = async (key, more, shown) => {
    const since = performance.now()
    document.activeElement.dispatchEvent(
      new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }),
    )
    do await window.painted()
    while (!shown())
    return performance.now() - since
  }
  window.until = until
})

/** As many presses of an arrow, each until another frame is the current one. */
const keys = await page.evaluate(async (times) => {
  const list = document.querySelector('#entry-1 [role=listbox][aria-label^=Contact]')
  list.focus()
  const millis = []
  for (let n = 0; n < times; n++) {
    // a person presses at any moment, not just when a frame has been painted
    await new Promise((done) => {
      setTimeout(done, 60 + 40 * Math.random())
    })
    const before = list.getAttribute('aria-activedescendant')
    millis.push(await window.until('ArrowRight', {}, () => list.getAttribute('aria-activedescendant') !== before))
  }
  return millis
}, KEYS)

const scrolls = await page.evaluate(async (times) => {
  const millis = []
  let before = performance.now()
  for (let n = 0; n < times; n++) {
    window.scrollBy(0, 400)
    await window.painted()
    const now = performance.now()
    millis.push(now - before)
    before = now
  }
  window.scrollTo(0, 0)
  return millis
}, SCROLLS)

/** Until nothing has been on its way for a while: what an answer makes the page ask again is drawn by then. */
const settled = async () => {
  for (let quiet = 0; quiet < 5; quiet = asked.size === 0 ? quiet + 1 : 0) await page.waitForTimeout(100)
}

const splits = []
for (let n = 0; n < SPLITS; n++) {
  await contact.getByRole('option').nth(5).click()
  await settled()
  splits.push(
    await page.evaluate(async () => {
      await new Promise((done) => {
        setTimeout(done, 40 * Math.random())
      })
      const count = () => document.querySelectorAll('section[id^=entry-]').length
      const before = count()
      return window.until('b', {}, () => count() > before)
    }),
  )
  await settled()
  await page.keyboard.press('Control+z')
  await page.waitForFunction(() => document.querySelectorAll('section[id^=entry-]').length === 1)
  await settled()
}
stdout.write(JSON.stringify({ bytes: { firstLoad, code, sheet, tape }, millis: { keys, splits, scrolls } }))
renameSync(join(bay, label), card)
await browser.close()
