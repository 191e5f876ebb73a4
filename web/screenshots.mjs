// Takes the pictures in docs/screenshots from a fresh demo: ./velvet screenshots
import { chromium } from '@playwright/test'
import { join } from 'node:path'
import { CHROMIUM } from './chromium.mjs'

const address = `http://127.0.0.1:${process.env.VELVET_PORT ?? '8417'}`
const folder = join(import.meta.dirname, '../docs/screenshots')
const browser = await chromium.launch(CHROMIUM)
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })

/** Every picture in view is there before the page is taken. */
async function take(name) {
  await page.mouse.move(640, 20)
  await page.waitForFunction(() => [...document.images].every((image) => image.complete))
  await page.screenshot({ path: join(folder, `${name}.png`), animations: 'disabled' })
}
const go = async (path) => {
  await page.goto(address + path)
  await page.getByRole('heading', { level: 1 }).waitFor()
}
const open = async (label) => {
  await go('/bays')
  await page
    .getByRole('region', { name: `Card ${label}`, exact: true })
    .getByRole('button', { name: 'Open sheet' })
    .click()
  await page.getByRole('option').first().waitFor()
  // pictures are drawn in the background; those that cannot be read never are
  await page.waitForFunction(
    async (sheet) => {
      const { entries } = await (await fetch(`/api/sheets/${sheet}/tape`)).json()
      const brightness = entries.flatMap((entry) => entry.brightness)
      return brightness.filter((value) => value === null).length < 5
    },
    new URL(page.url()).pathname.split('/').at(-1),
    { polling: 200 },
  )
}
const saved = () => page.waitForResponse((response) => response.request().method() === 'PATCH')

await go('/bays')
await page.getByRole('button', { name: 'Open sheet' }).nth(2).waitFor()
await take('bays')

// whose the pictures are, and a small catalogue of keywords
await page.evaluate(async () => {
  const send = (method, path, body) =>
    fetch(path, { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
  const text = (field, ...pieces) => ({
    field,
    pieces: pieces.map((piece) => (typeof piece === 'string' ? { piece: 'text', text: piece } : piece)),
  })
  const [style] = (await (await fetch('/api/styles')).json()).styles
  const year = { piece: 'shot_time', format: 'yyyy' }
  const texts = [
    text('creator', 'Ines Varga-Holt'),
    text('copyright', '© ', year, ' Ines Varga-Holt'),
    text('usage_terms', 'No use without a licence.'),
    text('contact_mail', 'ines@varga-holt.example'),
    text('headline', { piece: 'shoot_name' }),
  ]
  await send('PUT', '/api/styles/Standard', {
    style: {
      ...style,
      metadata: {
        ...style.metadata,
        texts,
        keywords: ['Tarn Hollow'],
        rights: [{ name: 'Harbour office', texts: [text('copyright', '© ', year, ' Tarn Hollow Harbour Office')] }],
      },
    },
  })
  await fetch('/api/keywords/import?name=harbour.txt', {
    method: 'POST',
    body: 'Places\n\tTarn Hollow\n\t\tQuay\n\t\tSaltmarsh\nSubjects\n\tboats\n\tlanterns\n\tpottery\n\ttide clock\n',
  })
  const { keywords } = await (await fetch('/api/keywords')).json()
  const change = (name, what) =>
    send('PATCH', `/api/keywords/${keywords.find((keyword) => keyword.name === name).id}`, what)
  await change('Places', { heading: true })
  await change('Subjects', { heading: true })
  await change('pottery', { synonyms: ['ceramics'] })
})

await open('KILN')
await page.getByRole('combobox', { name: 'Keywords of entry 2' }).fill('Saltmarsh, pottery,')
await page.getByRole('button', { name: 'Remove Subjects › pottery' }).waitFor()
await page.getByLabel('Name of entry 2').fill('Kiln opening, Saltmarsh Pottery')
await saved()
await page.getByLabel('Name of entry 3').fill('Kiln opening, Saltmarsh Pottery')
await saved()
await page.getByRole('button', { name: 'Copy 58 frames' }).and(page.locator(':enabled')).waitFor()
await page.getByText('2 look blurred').waitFor() // every picture is measured
await take('sheet')
await page.getByRole('button', { name: 'Evening theme' }).click()
await take('sheet-evening')
await page.getByRole('button', { name: 'Day theme' }).click()
await page.getByRole('button', { name: 'Contact sheet' }).click()
await page
  .getByRole('listbox', { name: 'Contact sheet of entry 3' })
  .getByRole('option')
  .nth(6)
  .scrollIntoViewIfNeeded()
await page.getByRole('option', { name: /TARA0358/ }).click()
await page.getByRole('option', { name: /TARA0361/ }).click({ modifiers: ['Shift'] })
await take('contact-sheet')
await page.getByRole('listbox', { name: 'Contact sheet of entry 3' }).getByRole('option').nth(7).dblclick()
await page.waitForFunction(() => document.querySelectorAll('[role=dialog] img').length === 1)
await take('look')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Close contact sheet' }).click()

await open('TIDE')
await page.getByRole('button', { name: /^Interval changes/ }).click()
await page.getByRole('button', { name: 'Begin an entry there' }).waitFor()
await page.locator('#entry-1 [role=option] img').nth(4).waitFor()
await page.mouse.move(900, 150)
await page.screenshot({ path: join(folder, 'sheet-time-lapse.png'), animations: 'disabled' })
await page
  .getByRole('button', { name: /^Time-lapse/ })
  .first()
  .click()
await page.getByRole('button', { name: 'Play it' }).click()
await page.locator('[role=slider][aria-valuenow="72"]').waitFor()
await page.keyboard.press('n')
await page.waitForTimeout(800)
await page.screenshot({ path: join(folder, 'time-lapse-played.png'), animations: 'disabled' })
await page.keyboard.press('Escape')

await open('LANTERN')
await page.getByLabel('Name of entry 1').fill('Lantern Regatta')
await saved()
await page.getByRole('combobox', { name: 'Keywords of entry 1' }).fill('Quay, lanterns, boats,')
await page.getByRole('button', { name: 'Remove Subjects › boats' }).waitFor()
await page.getByRole('button', { name: 'Copy 116 frames' }).and(page.locator(':enabled')).click()
await page.getByText(/^[2-9]\d of 116 frames$/).waitFor()
await page.getByRole('button', { name: 'Pause' }).click()
await page.getByRole('button', { name: 'Resume' }).waitFor()
await take('intake')
await page.getByRole('button', { name: 'Resume' }).click()
await page.getByText('LANTERN is cleared').waitFor()
await page.getByRole('button', { name: 'Files and checksums' }).first().click()
await page
  .getByText(/xxh128:/)
  .first()
  .waitFor()
await take('receipt')
await page.getByRole('link', { name: 'All of it, to print' }).click()
await page.getByRole('heading', { name: 'Lantern Regatta' }).waitFor()
await take('receipt-to-print')

await go('/shoots')
await page.getByRole('link', { name: /Lantern Regatta/ }).waitFor()
await take('shoots')
await page.getByRole('link', { name: /Lantern Regatta/ }).click()
await page.locator('[role=option] img').nth(20).waitFor()
await page.getByRole('option').nth(2).click()
await page
  .getByRole('option')
  .nth(5)
  .click({ modifiers: ['Shift'] })
await page.getByText('4 frames selected').waitFor()
await take('shoot')
for (const name of ['Boats', 'Quay'])
  await page.evaluate(
    (body) => fetch('/api/tabs', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body }),
    JSON.stringify({ name }),
  )
await page.getByRole('link', { name: /^First look/ }).click()
await page.locator('[role=slider][aria-valuenow="1"]').waitFor()
for (const key of 'kkks5kskk3kksk4kkskkkskk2kkskksk5kkkskk')
  await Promise.all([page.keyboard.press(key), page.waitForTimeout(150)])
while (!(await page.getByText('in a burst').isVisible())) await page.keyboard.press('ArrowRight')
for (const key of 'tbtq') await Promise.all([page.keyboard.press(key), page.waitForTimeout(150)])
await page.waitForTimeout(800)
await take('first-look')
await page.keyboard.press('a')
await page.keyboard.press('h')
await page.getByText('measuring…').waitFor({ state: 'hidden' })
await page.waitForTimeout(800)
await take('first-look-beside')
await page.getByRole('link', { name: 'Back to the shoot' }).click()
await page.getByRole('link', { name: /^Set \d+ struck frames aside$/ }).click()
await page.locator('[role=option] img').nth(5).waitFor()
await page.waitForTimeout(800)
await take('set-aside')
await page.getByRole('button', { name: /^Set \d+ frames aside$/ }).click()
await page.getByRole('heading', { name: /frames set aside$/ }).waitFor()
await go('/ledger')
await take('ledger')
await go('/house-style')
await page.getByRole('region', { name: 'Samples' }).waitFor()
await take('house-style')
await go('/house-style/keywords')
await page.getByRole('button', { name: /pottery/ }).click()
await take('keywords')
await browser.close()
