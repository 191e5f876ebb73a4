// Puts a card in and measures in the browser what a person waits for. Called by ./velvet bench pictures.
//   node first-pictures.mjs ADDRESS CARD BAY
import { chromium } from '@playwright/test'
import { renameSync } from 'node:fs'
import { basename, join } from 'node:path'
import { stdout } from 'node:process'
import { CHROMIUM } from '../chromium.mjs'

const [address, card, bay] = process.argv.slice(2)
const browser = await chromium.launch(CHROMIUM)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(`${address}bays`)
await page.getByRole('heading', { level: 1 }).waitFor()

const label = basename(card)
const row = page.getByRole('region', { name: `Card ${label}`, exact: true })
const drawn = (selector) =>
  page.waitForFunction(
    (css) => {
      const images = [...document.querySelectorAll(css)]
      return images.length > 0 && images.slice(0, 3).every((image) => image.complete && image.naturalWidth > 0)
    },
    selector,
    { polling: 'raf', timeout: 120_000 },
  )

const since = performance.now()
renameSync(card, join(bay, label))
await row.waitFor()
const noticed = performance.now()
await row.getByRole('button', { name: 'Open sheet' }).and(page.locator(':enabled')).waitFor({ timeout: 120_000 })
const read = performance.now()
await row.getByRole('button', { name: 'Open sheet' }).click()
await drawn('[role=option] img')
const pictures = performance.now()
stdout.write(JSON.stringify({ noticed: noticed - since, read: read - since, pictures: pictures - read }))
renameSync(join(bay, label), card)
await browser.close()
