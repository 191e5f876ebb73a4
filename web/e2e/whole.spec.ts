import { expect, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { inHand, openNote } from './entries'
import { bay, drives, home, putIn, tree } from './home'

// after trust.spec.ts: KILN, LANTERN and TIDE are filed

/** Makes a movie or a sound as ffmpeg from Debian writes it. */
const made = (path: string, ...how: string[]) => {
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', ...how, path])
}

test('a card of stills, a movie, sound and files that nobody knows goes from its sheet to cleared', async ({
  page,
}) => {
  const card = join(home, 'demo/tray/PIER')
  const folder = join(card, 'DCIM/100TARNA')
  mkdirSync(folder, { recursive: true })
  for (const [n, to] of ['TARA0901.JPG', 'TARA0902', 'TARA0903.JPG'].entries()) {
    copyFileSync(join(bay('TIDE'), `DCIM/100TARNA/TARA070${n + 2}.JPG`), join(folder, to))
    execFileSync('exiftool', ['-q', '-overwrite_original', `-AllDates=2026:05:16 10:00:0${n}`, join(folder, to)])
  }
  const at = ['-metadata', 'creation_time=2026-05-16T10:00:20']
  made(
    join(folder, 'TARA0904.MP4'),
    '-i',
    'testsrc2=s=320x240:r=10:d=2',
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    ...at,
  )
  made(join(folder, 'TARA0905.WAV'), '-i', 'sine=440:d=2')
  const spoken = new Date('2026-05-16T10:00:30Z') // such a sound says no time of its own
  utimesSync(join(folder, 'TARA0905.WAV'), spoken, spoken)
  mkdirSync(join(card, 'MISC'))
  writeFileSync(join(card, 'MISC/LIGHTS.QYX'), 'what no program here knows')
  try {
    putIn('PIER')
    await page.goto('/bays')
    const row = page.getByRole('region', { name: 'Card PIER' })
    await expect(row).toContainText('5 new')
    await row.getByRole('button', { name: 'Open sheet' }).click()
    const others = page.getByRole('region', { name: 'Also on the card' })
    await expect(others).toContainText('1 file, 26 bytes · 1 to copy')
    await others.getByRole('button', { name: 'Show the files' }).click()
    await expect(others.getByRole('row', { name: /MISC\/LIGHTS\.QYX/ })).toContainText('copied to 2026/')

    // the sound is heard in the closer look, and the movie plays
    const entry = await inHand(page, 1)
    await entry.getByRole('button', { name: 'Contact sheet' }).click()
    const frames = entry.getByRole('listbox', { name: /^Contact sheet/ }).getByRole('option')
    const heard = async (name: string, player: string) => {
      await frames.and(page.getByRole('option', { name: new RegExp(`^${name}`) })).dblclick()
      const seconds = () =>
        page
          .getByRole('dialog')
          .locator(player)
          .evaluate((element) => (element as HTMLMediaElement).duration)
      await expect.poll(seconds).toBeCloseTo(2, 1)
      await page.keyboard.press('Escape')
      await expect(page.getByRole('dialog')).toHaveCount(0)
    }
    await heard('TARA0905', 'audio')
    await heard('TARA0904', 'video')

    for (const field of await page.getByLabel(/^Name of entry/).all()) {
      await field.fill('Pier')
      await field.blur()
    }
    await page.getByRole('button', { name: 'Copy 5 frames' }).click()
    await expect(page.getByText('PIER is cleared')).toBeVisible()
    // the same in both places; what cannot be written to is there byte for byte
    const [shelf, twin] = [drives.shelf, drives.twin].map((drive) => tree(join(drive, '2026')))
    expect([...(twin ?? [])].sort()).toEqual([...(shelf ?? [])].sort())
    const digests = new Set(shelf?.values())
    const lost = [...tree(bay('PIER'))].filter(([path, digest]) => !/JPG$|0902$/.test(path) && !digests.has(digest))
    expect(lost).toEqual([])
    const names = [...(shelf?.keys() ?? [])].filter((path) => path.includes('Pier'))
    expect(names.filter((path) => /\.(jpg|mp4|wav)$/i.test(path)).length).toBe(4)
  } finally {
    rmSync(bay('PIER'), { recursive: true, force: true })
  }
})

test('a trip is a level of its own, stages get their folder, pairs two names, strays a folder', async ({
  page,
  request,
}) => {
  const root = mkdtempSync(join(home, 'demo/stages-'))
  const card = join(home, 'demo/tray/MOLE')
  const folder = join(card, 'DCIM/100TARNA')
  mkdirSync(folder, { recursive: true })
  const dated = (file: string, date: string) => {
    execFileSync('exiftool', ['-q', '-overwrite_original', `-AllDates=${date}`, join(folder, file)])
  }
  // a try, then a time-lapse; and on the next day a pair
  for (let n = 0; n < 13; ++n) {
    const file = `TARA10${String(n).padStart(2, '0')}.JPG`
    copyFileSync(join(bay('TIDE'), `DCIM/100TARNA/TARA07${n + 10}.JPG`), join(folder, file))
    dated(file, n === 0 ? '2026:05:18 09:55:00' : `2026:05:18 10:0${Math.floor(n / 6)}:${(n % 6) * 10}`)
  }
  for (const kind of ['JPG', 'TRW']) {
    copyFileSync(join(bay('LANTERN'), `DCIM/100TARNA/TARA9962.${kind}`), join(folder, `TARA1020.${kind}`))
    dated(`TARA1020.${kind}`, '2026:05:19 11:00:00')
  }
  try {
    for (const name of ['working', 'working-twin']) mkdirSync(join(root, name))
    const working = { name: 'Working', root: join(root, 'working'), twin: join(root, 'working-twin') }
    expect((await request.post('/api/shelves', { data: working })).status()).toBe(201)

    await page.goto('/house-style')
    await page.getByRole('button', { name: 'New from this' }).click()
    await expect(page.getByLabel('Name of the style')).toHaveValue(/^Standard, changed/)
    await page.getByLabel('Name of the style').fill('Harbour trips')
    await page.getByRole('combobox', { name: 'Raw and JPEG of a pair are' }).click()
    await page.getByRole('option', { name: 'two frames, two names' }).click()
    await page.getByRole('button', { name: 'the same on other shelves' }).click()
    await page.getByLabel('the same folder on the shelves').fill('Working')
    await page.getByRole('button', { name: '+ a level above' }).click()
    const level = page.getByRole('group', { name: 'Folder, level 2' })
    await level.getByRole('button', { name: /Add a piece/ }).click()
    await page.getByRole('menuitem', { name: 'Trip', exact: true }).click()
    const saved = page.waitForResponse((response) => response.request().method() === 'PUT' && response.ok())
    await level.locator('[data-chip]').first().focus()
    await page.keyboard.press('Delete')
    await saved

    putIn('MOLE')
    await page.goto('/bays')
    await page.getByRole('region', { name: 'Card MOLE' }).getByRole('button', { name: 'Open sheet' }).click()
    await page.getByRole('combobox', { name: 'House style' }).click()
    await page.getByRole('option', { name: 'Harbour trips' }).click()
    for (const [n, name] of ['Breakwater', 'Mole'].entries()) {
      const entry = await inHand(page, n + 1)
      await entry.getByLabel(`Trip of entry ${n + 1}`).fill('Outer harbour')
      await page.getByLabel(`Name of entry ${n + 1}`).fill(name)
      await page.getByLabel(`Name of entry ${n + 1}`).blur()
    }
    const notes = await openNote(page, 1, /1 around the time-lapse/)
    await notes.getByRole('button', { name: 'Into a folder' }).click()
    await expect((await inHand(page, 1)).getByRole('group', { name: 'Notes on entry 1' })).toContainText('time-lapse')
    await page.getByRole('button', { name: 'Copy 15 frames' }).click()
    await expect(page.getByText('MOLE is cleared')).toBeVisible()

    const paths = [...tree(drives.twin).keys()].filter((path) => path.includes('Outer harbour'))
    expect(paths.filter((path) => path.includes('/strays/'))).toHaveLength(1)
    expect(paths.filter((path) => path.includes('Breakwater'))).toHaveLength(13)
    // beside the raw file lies its sidecar, where the house style writes rights and keywords
    const pair = paths
      .filter((path) => path.includes('Mole') && !path.endsWith('.xmp'))
      .map((path) => path.split('_').at(-1))
    expect(pair.sort()).toEqual(['0001.trw', '0002.jpg'])
    const shoot = (paths.find((path) => path.includes('Mole')) ?? '').replace(/\/[^/]*$/, '')
    for (const stage of ['working', 'working-twin']) expect(existsSync(join(root, stage, shoot))).toBe(true)
  } finally {
    rmSync(bay('MOLE'), { recursive: true, force: true })
    rmSync(card, { recursive: true, force: true })
    rmSync(root, { recursive: true, force: true })
  }
})
