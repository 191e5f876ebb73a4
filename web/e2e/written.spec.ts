import AxeBuilder from '@axe-core/playwright'
import { execFileSync } from 'node:child_process'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { drives, tree } from './home'

// after trust.spec.ts: KILN is filed with metadata

/** What exiftool from Debian finds in a file. */
const said = (path: string): Record<string, unknown> => (JSON.parse(execFileSync('exiftool', ['-json', path], { encoding: 'utf8' })) as Record<string, unknown>[])[0] ?? {}

/** A filed JPEG of the kiln's opening, and its shoot. */
async function kiln(page: Page): Promise<{ path: string; paths: string[]; shoot: number }> {
  const { shoots } = (await (await page.request.get('/api/shoots')).json()) as { shoots: { id: number; folder: string }[] }
  const shoot = shoots.find(({ folder }) => folder.includes('Saltmarsh'))
  const paths = [...tree(drives.shelf).keys()].filter((path) => path.endsWith('.jpg') && shoot !== undefined && path.startsWith(`${shoot.folder}/`)).sort()
  return { path: paths[0] ?? '', paths, shoot: shoot?.id ?? 0 }
}

test('a list of keywords is taken in, a broken line is named, and the catalogue is changed', async ({ page }) => {
  await page.goto('/house-style')
  await page.getByRole('link', { name: 'The catalogue of keywords' }).click()
  await page.getByLabel('A list of keywords').setInputFiles({ name: 'harbour.txt', mimeType: 'text/plain', buffer: Buffer.from('[Places]\n\tTarn Hollow\n\t\tQuay\n\t\t\t\tstones\n[Subjects]\n\tpottery\n\t\t{ceramics}\n\tglaze\n\tenamel\n') })
  await expect(page.getByText('harbour.txt, line 4: “stones” is indented further than one step')).toBeVisible()
  await page.getByRole('button', { name: /^enamel/ }).click()
  await page.getByLabel('Merge into').fill('Subjects › glaze')
  await page.getByRole('button', { name: 'Merge', exact: true }).click()
  await expect(page.getByRole('button', { name: /^glaze also enamel/ })).toBeVisible()
  await page.getByLabel('Find or add a keyword').fill('ceram')
  await expect(page.getByRole('list', { name: 'Catalogue' }).getByRole('listitem')).toHaveCount(2)
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
  await expect(says.getByRole('button', { name: 'Take first firing away' })).toBeVisible()
  await says.getByRole('button', { name: 'All they say' }).click()
  await says.getByText('+ a field').click()
  await page.getByRole('menuitem', { name: 'Headline' }).click()
  await says.getByLabel('Headline').fill('The kiln is opened')
  await says.getByLabel('Headline').blur()
  await expect.poll(() => paths.map((path) => said(join(drives.twin, path))).filter((file) => file.Headline === 'The kiln is opened' && JSON.stringify(file.Subject).includes('first firing')).length).toBe(1)
  await page.getByRole('listbox', { name: /Contact sheet/ }).press('Control+a')
  await expect(says.getByText('first firing on 1')).toBeVisible()
  await says.getByRole('button', { name: /^Undo headline/ }).click()
  await expect.poll(() => paths.filter((path) => said(join(drives.shelf, path)).Headline === 'The kiln is opened').length).toBe(0)
  expect((await new AxeBuilder({ page }).exclude('[role=listbox]').analyze()).violations).toEqual([])
})

test('what another program wrote into a filed file is noticed, shown beside ours and taken', async ({ page }) => {
  const { path, shoot } = await kiln(page)
  execFileSync('exiftool', ['-q', '-overwrite_original', '-XMP-photoshop:Headline=Written elsewhere', '-XMP-xmp:Rating=5', join(drives.shelf, path)])
  await page.goto(`/shoots/${shoot}`)
  const outside = page.getByRole('region', { name: 'Changed by another program' })
  await expect(outside.getByText('1 file changed outside.')).toBeVisible()
  await outside.getByRole('button', { name: 'See both' }).click()
  await expect(outside.getByRole('row', { name: /Headline/ })).toContainText('Written elsewhere')
  await outside.getByRole('button', { name: 'Take theirs' }).click()
  await expect(outside).toHaveCount(0)
  expect(said(join(drives.twin, path)).Headline).toBe('Written elsewhere')
})
