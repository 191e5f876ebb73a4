import AxeBuilder from '@axe-core/playwright'
import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { file } from './filed'
import { bay, drives, tree } from './home'

test.beforeAll(async ({ request }) => {
  test.setTimeout(180_000)
  await file(request, ['KILN'], 'Kiln opening, Saltmarsh Pottery')
})

/** What exiftool from Debian finds in a file. */
const said = (path: string): Record<string, unknown> => allSaid([path])[0] ?? {}

/** In each of many, at one go: started for each, it is slower than a test is patient. */
const allSaid = (paths: string[]): Record<string, unknown>[] =>
  JSON.parse(execFileSync('exiftool', ['-json', ...paths], { encoding: 'utf8' })) as Record<string, unknown>[]

/** A filed JPEG of the kiln's opening, and its shoot. */
async function kiln(page: Page): Promise<{ path: string; paths: string[]; shoot: number }> {
  const { shoots } = (await (await page.request.get('/api/shoots')).json()) as {
    shoots: { id: number; folder: string }[]
  }
  const shoot = shoots.find(({ folder }) => folder.includes('Saltmarsh'))
  const paths = [...tree(drives.shelf).keys()]
    .filter((path) => path.endsWith('.jpg') && shoot !== undefined && path.startsWith(`${shoot.folder}/`))
    .sort()
  return { path: paths[0] ?? '', paths, shoot: shoot?.id ?? 0 }
}

test('a list of keywords is taken in, a broken line is named, and the catalogue is changed', async ({ page }) => {
  await page.goto('/house-style')
  await page.getByRole('link', { name: 'The catalogue of keywords' }).click()
  await page.getByLabel('A list of keywords').setInputFiles({
    name: 'harbour.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      'Places\n\tTarn Hollow\n\t\tQuay\n\t\t\t\tstones\nSubjects\n\tpottery\n\t\tceramics\n\tglaze\n\tenamel\n',
    ),
  })
  await expect(page.getByText('harbour.txt, line 4: “stones” is indented further than one step')).toBeVisible()
  await page.getByRole('button', { name: /^enamel/ }).click()
  await page.getByLabel('Merge into').fill('Subjects › glaze')
  await page.getByRole('button', { name: 'Merge', exact: true }).click()
  await expect(page.getByRole('button', { name: /^glaze also enamel/ })).toBeVisible()
  await page.getByLabel('Find or add a keyword').fill('ceram')
  await expect(page.getByRole('list', { name: 'Catalogue' }).getByRole('listitem')).toHaveCount(3)
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([])
})

test('filed frames are changed by selection, the files follow on both drives, and it is undone', async ({ page }) => {
  const { paths, shoot } = await kiln(page)
  await page.goto(`/shoots/${shoot}`)
  const frames = page.getByRole('listbox', { name: /Contact sheet/ }).getByRole('option')
  await frames.first().click()
  const says = page.getByRole('region', { name: 'What the frames say' })
  await expect(says.getByText('1 frame selected')).toBeVisible()
  await says.getByRole('combobox', { name: 'Keywords of the selected frames' }).fill('first firing,')
  await expect(says.getByRole('button', { name: 'Remove first firing' })).toBeVisible()
  await says.getByRole('button', { name: 'All fields' }).click()
  await says.getByText('+ a field').click()
  await page.getByRole('menuitem', { name: 'Headline' }).click()
  await says.getByLabel('Headline').fill('The kiln is opened')
  await says.getByLabel('Headline').blur()
  await expect
    .poll(
      () =>
        allSaid(paths.map((path) => join(drives.twin, path))).filter(
          (file) => file.Headline === 'The kiln is opened' && JSON.stringify(file.Subject).includes('first firing'),
        ).length,
    )
    .toBe(1)
  await page.getByRole('listbox', { name: /Contact sheet/ }).press('Control+a')
  await expect(says.getByText('first firing on 1')).toBeVisible()
  await says.getByRole('button', { name: /^Undo headline/ }).click()
  await expect
    .poll(
      () =>
        allSaid(paths.map((path) => join(drives.shelf, path))).filter(
          ({ Headline }) => Headline === 'The kiln is opened',
        ).length,
    )
    .toBe(0)
  expect((await new AxeBuilder({ page }).exclude('[role=listbox]').analyze()).violations).toEqual([])
})

test('a keyword meets the frames that it was typed for, and half a word meets none', async ({ page }) => {
  const { shoot } = await kiln(page)
  const sent: { frames: number[]; add?: string[] }[] = []
  await page.route(`**/api/shoots/${shoot}/says`, async (route) => {
    if (route.request().method() === 'PATCH') {
      sent.push(route.request().postDataJSON() as { frames: number[] })
      await new Promise((go) => setTimeout(go, 300)) // the second waits for the first, while another frame is clicked
    }
    await route.continue()
  })
  await page.goto(`/shoots/${shoot}`)
  const says = page.getByRole('region', { name: 'What the frames say' })
  await expect(says).toContainText('Nothing is selected.')
  await expect(says.getByRole('combobox')).toHaveCount(0)
  const frames = page.getByRole('listbox', { name: /Contact sheet/ }).getByRole('option')
  await frames.nth(0).click()
  const field = says.getByRole('combobox', { name: 'Keywords of the selected frames' })
  await field.fill('glaze,')
  await field.fill('ash,')
  await frames.nth(3).click()
  await expect.poll(() => sent.length).toBe(2)
  expect(sent[1]?.frames).toEqual(sent[0]?.frames)
  await field.fill('har')
  await expect(says.getByRole('button', { name: 'Add “har”' })).toBeVisible()
  await frames.nth(5).click()
  await expect(field).toHaveValue('')
  await says.getByRole('button', { name: 'Select nothing' }).click()
  await says.getByRole('button', { name: /^Select all \d+ frames$/ }).click()
  await expect(says.getByText(/^\d+ frames selected$/)).toBeVisible()
  expect(sent.flatMap(({ add }) => add ?? [])).toEqual(['glaze', 'ash'])
  for (let n = 0; n < 2; n++) {
    await says.getByRole('button', { name: /^Undo/ }).click()
    await expect(says.getByText(n === 0 ? 'ash on 1' : 'glaze on 1')).toHaveCount(0)
  }
})

test('what another program wrote into a filed file is noticed, shown beside ours and taken', async ({ page }) => {
  const { path, shoot } = await kiln(page)
  execFileSync('exiftool', [
    '-q',
    '-overwrite_original',
    '-XMP-photoshop:Headline=Written elsewhere',
    '-XMP-xmp:Rating=5',
    join(drives.shelf, path),
  ])
  await page.goto(`/shoots/${shoot}`)
  const outside = page.getByRole('region', { name: 'Changed by another program' })
  await expect(outside.getByText('1 file changed outside.')).toBeVisible()
  await outside.getByRole('button', { name: 'See both' }).click()
  await expect(outside.getByRole('row', { name: /Headline/ })).toContainText('Written elsewhere')
  await outside.getByRole('button', { name: 'Use the other version' }).click()
  await expect(outside).toHaveCount(0)
  expect(said(join(drives.twin, path)).Headline).toBe('Written elsewhere')
})

test('raw files become DNG while their card is copied, as its entry chooses, and the receipt tells it', async ({
  page,
}) => {
  const folder = join(bay('QUAY'), 'DCIM/100TARNA')
  mkdirSync(folder, { recursive: true })
  // three exposures that nobody has filed, in everything but their samples
  const names = ['TARA0324.TRW', 'TARA0325.TRW', 'TARA0326.TRW']
  names.forEach((name, n) => {
    writeFileSync(
      join(folder, name),
      Buffer.concat([readFileSync(join(bay('KILN'), 'DCIM/100TARNA', name)), Buffer.from(`quay ${n}`)]),
    )
  })
  try {
    await page.goto('/bays')
    await page.getByRole('region', { name: 'Card QUAY' }).getByRole('button', { name: 'Open sheet' }).click()
    const entry = page.getByRole('region', { name: 'Entry 1', exact: true })
    await entry.getByPlaceholder('Name this shoot').fill('Quay')
    await entry.getByLabel('Raw files of entry 1').click()
    await page.getByRole('option', { name: 'become DNG', exact: true }).click()
    await expect(entry).toContainText('quay_0001.dng')
    await page.getByRole('button', { name: 'Copy 3 frames' }).click()
    await expect(page.getByText(/3 raw files as DNG, .* MB → .* MB, every pixel value checked/)).toBeVisible({
      timeout: 45_000,
    })
    await expect(page.getByText('QUAY is cleared')).toBeVisible()
    const of = (root: string) => [...tree(root)].filter(([path]) => path.includes(' Quay/'))
    expect(
      of(drives.shelf)
        .map(([path]) => path.split('_').at(-1))
        .sort(),
    ).toEqual(['0001.dng', '0002.dng', '0003.dng'])
    expect(of(drives.twin)).toEqual(of(drives.shelf))
    expect(said(join(drives.twin, of(drives.twin)[0]?.[0] ?? ''))).toMatchObject({
      OriginalRawFileName: 'TARA0324.TRW',
      DNGVersion: '1.4.0.0',
    })
    expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([])
  } finally {
    rmSync(bay('QUAY'), { recursive: true })
  }
})

test('a filed raw file goes into its DNG, and is taken out again to the last bit', async ({ page }) => {
  const { shoots } = (await (await page.request.get('/api/shoots')).json()) as {
    shoots: { id: number; folder: string }[]
  }
  const shoot = shoots.find(({ folder }) => folder.startsWith('2026/2026-04-30'))
  const [raw, before] = [...tree(drives.shelf)].find(
    ([path]) => shoot !== undefined && path.startsWith(shoot.folder) && path.endsWith('_0001.trw'),
  ) ?? ['', '']
  const dng = raw.replace(/trw$/, 'dng')
  expect(before).not.toBe('')
  await page.goto(`/shoots/${shoot?.id ?? 0}`)
  await page
    .getByRole('listbox', { name: /Contact sheet/ })
    .getByRole('option', { name: /_0001/ })
    .click()
  await expect(page.getByText('1 frame selected')).toBeVisible()
  await page.getByRole('button', { name: 'Raw and DNG' }).click()
  await page.getByRole('menuitem', { name: /DNG instead, keep the camera file within/ }).click()
  await expect
    .poll(() => [tree(drives.shelf), tree(drives.twin)].map((files) => [files.has(raw), files.has(dng)]), {
      timeout: 20_000,
    })
    .toEqual([
      [false, true],
      [false, true],
    ])
  await page.getByRole('button', { name: 'Raw and DNG' }).click()
  await page.getByRole('menuitem', { name: /Restore the camera file from 1 DNG/ }).click()
  await expect
    .poll(() => [tree(drives.shelf), tree(drives.twin)].map((files) => [files.get(raw), files.has(dng)]), {
      timeout: 20_000,
    })
    .toEqual([
      [before, true],
      [before, true],
    ])
})
