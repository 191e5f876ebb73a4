import { expect, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { copyFileSync, mkdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { inHand } from './entries'
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
