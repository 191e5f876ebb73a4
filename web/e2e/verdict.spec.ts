import { expect, test, type Page } from '@playwright/test'
import { execFileSync, spawnSync } from 'node:child_process'
import { refusedBy } from './axe'
import { file } from './filed'
import { drives, putIn, takeOut } from './home'

test.beforeAll(async ({ request }) => {
  test.setTimeout(180_000)
  await file(request, ['LANTERN'], 'Lantern Regatta') // with bursts and brackets
  putIn('LANTERN_2') // with one frame more, so that two intakes filed the shoot
  await file(request, ['LANTERN', 'LANTERN_2'], 'Lantern Regatta')
  takeOut('LANTERN_2')
})

const shootOf = async (page: Page, name: string): Promise<number> => {
  const answer = (await (await page.request.get('/api/shoots')).json()) as {
    shoots: { id: number; name: string; frames: number }[]
  }
  return answer.shoots.find((shoot) => shoot.name === name)?.id ?? 0
}

interface Frame {
  id: number
  verdict: string
  stars: number | null
  intakes: number[]
  seconds: number | null
}
interface Pass {
  frames: Frame[]
  groups: { kind: string; frames: number[]; sharpest: number | null }[]
}

const passOf = async (page: Page, shoot: number): Promise<Pass> =>
  (await (await page.request.get(`/api/shoots/${shoot}/verdicts`)).json()) as Pass

/** Back to where nothing is judged. */
test.afterEach(async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const data = { judgements: [{ verdict: 'open', stars: 0 }] }
  expect((await page.request.patch(`/api/shoots/${shoot}/verdicts`, { data })).ok()).toBe(true)
})

test('a whole first look goes by keys, and stars are in the files of both drives', async ({ page }) => {
  test.setTimeout(120_000)
  const shoot = await shootOf(page, 'Lantern Regatta')
  const all = (await passOf(page, shoot)).frames.length
  await page.goto('/shoots')
  await page.locator(`a[href="/shoots/${shoot}"]`).click()
  await page.getByRole('link', { name: `First look: ${all} frames open` }).click()
  const counted = page.getByRole('status').filter({ hasText: 'judged' })
  await expect(counted).toHaveText(new RegExp(`0 of ${all} judged.*0 kept.*0 struck.*${all} open`))
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuetext', `Frame 1 of ${all}, open`)

  // every fourth is struck, every fifth of the others starred; the next open frame comes by itself
  for (let n = 0; n < all; n++) {
    await expect(tape).toHaveAttribute('aria-valuenow', String(n + 1))
    if (n % 4 === 3) await page.keyboard.press('s')
    else {
      if (n % 5 === 0) await page.keyboard.press('4')
      await page.keyboard.press('k')
    }
  }
  const struck = Math.floor(all / 4)
  await expect(counted).toHaveText(
    new RegExp(`${all} of ${all} judged.*${all - struck} kept.*${struck} struck.*0 open`),
  )
  await expect
    .poll(async () => (await passOf(page, shoot)).frames.filter(({ verdict }) => verdict === 'open').length)
    .toBe(0)
  expect((await passOf(page, shoot)).frames.map(({ verdict }) => verdict)).toEqual(
    Array.from({ length: all }, (_, n) => (n % 4 === 3 ? 'struck' : 'kept')),
  )

  // the last verdict is undone and made again, over a reload
  await page.keyboard.press('Control+z')
  await expect(counted).toHaveText(new RegExp(`${all - 1} of ${all} judged.*1 open`))
  await page.reload()
  await expect(counted).toHaveText(new RegExp(`${all - 1} of ${all} judged.*1 open`))
  await expect(tape).toHaveAttribute('aria-valuetext', `Frame ${all} of ${all}, open`)
  await page.keyboard.press('Control+y')
  await expect(counted).toHaveText(/ 0 open|0 open$/)

  // what exiftool reads in both places
  const { frames } = (await (await page.request.get(`/api/shoots/${shoot}/frames?limit=500`)).json()) as {
    frames: { stars: number | null; files: { path: string }[] }[]
  }
  const starred = frames
    .filter(({ stars }) => stars === 4)
    .flatMap(({ files }) => files.map(({ path }) => path).filter((path) => path.endsWith('.jpg')))
  expect(starred.length).toBeGreaterThan(15)
  for (const drive of [drives.shelf, drives.twin]) {
    const rated = () =>
      execFileSync(
        'exiftool',
        ['-q', '-if', '$XMP-xmp:Rating == 4', '-p', '$Directory/$FileName', '-r', '-ext', 'jpg', '.'],
        {
          cwd: drive,
        },
      )
        .toString()
        .trim()
        .split('\n')
        .map((path) => path.replace(/^\.\//, ''))
        .sort()
    await expect.poll(rated, { timeout: 60_000, intervals: [2_000] }).toEqual(starred.sort())
  }

  // struck frames are crossed out on the shoot's contact sheet
  await page.keyboard.press('Escape')
  await expect(page.getByRole('link', { name: 'First look: all judged' })).toBeVisible()
  await expect(page.getByRole('option').nth(3)).toHaveAccessibleName(/struck/)
  await expect(page.getByRole('option').nth(1)).toHaveAccessibleName(/kept/)
})

test('a first look goes through all shoots that were found, and each verdict is its own shoot’s', async ({ page }) => {
  const { shoots } = (await (await page.request.get('/api/shoots')).json()) as {
    shoots: { id: number; frames: number }[]
  }
  const begins = new Map<number, number>()
  for (const { id } of shoots) begins.set(id, (await passOf(page, id)).frames[0]?.seconds ?? Infinity)
  const inOrder = [...shoots].sort((one, other) => (begins.get(one.id) ?? 0) - (begins.get(other.id) ?? 0))
  const [earliest, latest] = [inOrder[0], inOrder.at(-1)]
  if (!earliest || !latest || earliest === latest) throw new Error('There are not several shoots.')
  const all = shoots.reduce((sum, { frames }) => sum + frames, 0)
  await page.goto('/shoots')
  await page.getByLabel('Search the shoots').fill('2026')
  await page.getByRole('link', { name: 'First look at all of them' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`First look: “2026”, ${shoots.length} shoots`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuemax', String(all))

  const counted = page.getByRole('status').filter({ hasText: 'judged' })
  await page.keyboard.press('s')
  await page.keyboard.press('End')
  await page.keyboard.press('k')
  await expect(counted).toHaveText(new RegExp(`2 of ${all} judged.*1 kept.*1 struck`))
  const verdicts = async () => [
    (await passOf(page, earliest.id)).frames[0]?.verdict,
    (await passOf(page, latest.id)).frames.at(-1)?.verdict,
  ]
  await expect.poll(verdicts).toEqual(['struck', 'kept'])

  // what was done last is undone first, in whichever shoot it was
  await page.keyboard.press('Control+z')
  await expect.poll(verdicts).toEqual(['struck', 'open'])
  await page.keyboard.press('Control+z')
  await expect.poll(verdicts).toEqual(['open', 'open'])
  await page.keyboard.press('Control+y')
  await expect.poll(verdicts).toEqual(['struck', 'open'])
  await expect(counted).toHaveText(new RegExp(`1 of ${all} judged.*0 kept.*1 struck`))
  await page.keyboard.press('Control+z')
  await expect.poll(verdicts).toEqual(['open', 'open'])
  expect(await refusedBy(page, 'a first look through several shoots')).toEqual([])
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(/\/shoots$/)
})

test('a first look goes through what one intake filed', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const { frames } = await passOf(page, shoot)
  const intake = frames[0]?.intakes[0] ?? 0
  const filed = frames.filter(({ intakes }) => intakes.includes(intake))
  await page.goto(`/sheets/${intake}/first-look`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('First look: From ')
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuemax', String(filed.length))
  await page.keyboard.press('s')
  await expect(tape).toHaveAttribute('aria-valuenow', '2')
  await expect
    .poll(async () => (await passOf(page, shoot)).frames.find(({ id }) => id === filed[0]?.id)?.verdict)
    .toBe('struck')
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(new RegExp(`/sheets/${intake}$`))
})

test('who judges is kept with the verdict; what another one said stands beside it and is taken over', async ({
  page,
}) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const first = async () => (await passOf(page, shoot)).frames[0]
  await page.goto(`/shoots/${shoot}/first-look`)
  const judgeAs = async (before: string, name: string) => {
    await page.getByRole('button', { name: before }).click()
    await page.getByLabel('Judging as').fill(name)
    await page.keyboard.press('Enter')
  }
  await judgeAs('say who judges', 'Ines')
  await page.keyboard.press('k')
  await expect.poll(first).toMatchObject({ verdict: 'kept', by: 'Ines' })
  await page.reload()
  await judgeAs('judging as Ines', 'The editor')
  await page.keyboard.press('Home')
  await expect(page.getByText('judged by Ines')).toBeVisible()
  await page.keyboard.press('s')
  await page.keyboard.press('Home')
  await expect(page.getByText('Ines: kept')).toBeVisible()
  await expect.poll(first).toMatchObject({ verdict: 'struck', by: 'The editor' })
  expect(await refusedBy(page, 'marks of two people')).toEqual([])

  // all of it at one stroke, where they differ
  await page.getByRole('button', { name: 'only some of them' }).click()
  await page.getByLabel('Another’s word').click()
  await page.getByRole('option', { name: 'Ines says otherwise (1)' }).click()
  await page.getByRole('button', { name: 'take over 1 verdict' }).click()
  await expect.poll(first).toMatchObject({
    verdict: 'kept',
    by: 'Ines',
    beside: [{ by: 'The editor', verdict: 'struck' }],
  })
  await page.keyboard.press('Control+z')
  await expect.poll(first).toMatchObject({ verdict: 'struck', by: 'The editor' })
  await page.getByRole('button', { name: 'take over: Ines: kept' }).click()
  await expect.poll(first).toMatchObject({ verdict: 'kept', by: 'Ines' })
})

test('a burst is settled at one stroke, and a second window sees it at once', async ({ page, context }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const { frames, groups } = await passOf(page, shoot)
  const burst = groups.find(({ kind }) => kind === 'burst')
  const place = frames.findIndex(({ id }) => id === burst?.frames[1])
  await page.goto(`/shoots/${shoot}/first-look`)
  const other = await context.newPage()
  await other.goto(`/shoots/${shoot}/first-look`)
  await page.bringToFront() // keys go to the window in front
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  for (let n = 0; n < place; n++) await page.keyboard.press('ArrowRight')
  await expect(page.getByText(`2nd of ${burst?.frames.length ?? 0} in a burst`)).toBeVisible()
  expect(await refusedBy(page, 'a first look')).toEqual([])
  await page.getByRole('button', { name: /^keep this, strike the other/ }).click()
  const struck = (burst?.frames.length ?? 0) - 1
  for (const window of [page, other])
    await expect(window.getByRole('status').filter({ hasText: 'judged' })).toHaveText(
      new RegExp(`1 kept.*${struck} struck`),
    )
  // the struck are looked at again by themselves, and one of them is taken back by the other window
  await other.getByRole('combobox', { name: 'First look at' }).click()
  await other.getByRole('option', { name: `the struck, again (${struck})` }).click()
  await other.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: 'judged' })).toHaveText(
    new RegExp(`2 kept.*${struck - 1} struck`),
  )
  // all of it is undone from the first one
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect(other.getByRole('status').filter({ hasText: 'judged' })).toHaveText(/0 kept.*0 struck/)
})

test('what was judged while the server did not answer is not lost', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  await page.goto(`/shoots/${shoot}/first-look`)
  const counted = page.getByRole('status').filter({ hasText: 'judged' })
  await expect(counted).toHaveText(/^0 of \d+ judged/)
  const verdicts = (url: URL) => url.pathname.endsWith('/verdicts')
  await page.route(verdicts, (route) => (route.request().method() === 'PATCH' ? route.abort() : route.continue()))
  for (const key of ['k', 's', 'k']) await page.keyboard.press(key)
  await expect(counted).toHaveText(/2 kept.*1 struck/)
  await expect(page.getByRole('alert')).toContainText('does not answer')
  expect((await passOf(page, shoot)).frames.every(({ verdict }) => verdict === 'open')).toBe(true)
  await page.unroute(verdicts)
  await page.reload()
  await expect(counted).toHaveText(/2 kept.*1 struck/)
  await expect
    .poll(async () => (await passOf(page, shoot)).frames.slice(0, 4).map(({ verdict }) => verdict))
    .toEqual(['kept', 'struck', 'kept', 'open'])
})

test('however slow the server is, verdicts are one answer behind at most, and keep their order', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  await page.goto(`/shoots/${shoot}/first-look`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  let sent = 0
  let answer: () => void = () => undefined
  const answers = new Promise<void>((resolve) => (answer = resolve))
  await page.route(
    (url) => url.pathname.endsWith('/verdicts'),
    async (route) => {
      if (route.request().method() === 'PATCH') sent++
      await answers
      await route.continue()
    },
  )
  for (let n = 1; n <= 12; n++) {
    await page.keyboard.press(n % 3 ? 'k' : 's')
    await expect(tape).toHaveAttribute('aria-valuenow', String(n + 1))
  }
  await page.keyboard.press('Control+z') // the twelfth, before any is acknowledged
  expect(sent).toBe(1)
  answer()
  await expect
    .poll(async () => (await passOf(page, shoot)).frames.slice(0, 13).map(({ verdict }) => verdict))
    .toEqual(Array.from({ length: 13 }, (_, n) => (n > 10 ? 'open' : n % 3 < 2 ? 'kept' : 'struck')))
  expect(sent).toBe(2)
})

test('a frame is shown at 1:1 at the pointer, stays from frame to frame, and is moved by a drag', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  await page.goto(`/shoots/${shoot}/first-look`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  const room = async () => (await page.locator('.mat').first().boundingBox())?.height
  const high = await room()
  await page.mouse.move(400, 200)
  await page.keyboard.press('Space')
  const whole = page.getByRole('img', { name: / at 1:1$/ })
  await expect(whole).toBeVisible()
  const from = async () => ((await whole.getAttribute('data-from')) ?? '').split(' ').map(Number) as [number, number]
  const before = await from()
  // one pixel of the picture is one of the screen: libvips decodes the filed copy
  const name = ((await whole.getAttribute('aria-label')) ?? '').replace(/ at 1:1$/, '')
  const [filed = ''] = execFileSync('find', [drives.shelf, '-iname', `${name}.jpg`])
    .toString()
    .split('\n')
  for (const [x, y] of [
    [40, 30],
    [311, 207],
  ] as const) {
    const point = execFileSync('vips', ['getpoint', filed, String(before[0] + x), String(before[1] + y)]).toString()
    const seen = await whole.evaluate(
      (canvas: HTMLCanvasElement, [x, y]) => [...(canvas.getContext('2d')?.getImageData(x, y, 1, 1).data ?? [])],
      [x, y] as const,
    )
    for (const [n, value] of point.trim().split(/\s+/).map(Number).entries()) {
      expect(Math.abs((seen[n] ?? NaN) - value)).toBeLessThanOrEqual(3) // decoders may round differently
    }
  }
  await page.mouse.down()
  await page.mouse.move(380, 190, { steps: 4 })
  await page.mouse.up()
  const after = await from()
  expect(after[0]).toBeGreaterThanOrEqual(before[0])
  await page.keyboard.press('ArrowRight')
  await expect(tape).toHaveAttribute('aria-valuenow', '2')
  await expect(whole).not.toHaveAccessibleName(`${name} at 1:1`)
  // the picture does not move under the eye, whatever is said beneath it, but for what is rounded
  const next = await from()
  expect(next[0]).toBe(after[0])
  expect(Math.abs(next[1] - after[1])).toBeLessThanOrEqual(1)
  await page.keyboard.press('5')
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: /^Redo/ })).toBeVisible()
  expect(Math.abs(((await room()) ?? NaN) - (high ?? NaN))).toBeLessThanOrEqual(2)
  await page.keyboard.press('Escape')
  await expect(whole).toHaveCount(0)
  await expect(page).toHaveURL(/first-look$/)
  // a click does the same, for hands without keys
  await page.mouse.click(640, 300)
  await expect(whole).toBeVisible()
  await page.mouse.click(640, 300)
  await expect(whole).toHaveCount(0)
})

test('frames stand beside each other, move and are enlarged as one; a verdict is for the one at hand', async ({
  page,
}) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const { frames, groups } = await passOf(page, shoot)
  const burst = groups.find(({ kind }) => kind === 'burst')?.frames ?? []
  const first = frames.findIndex(({ id }) => id === burst[0]) + 1
  await page.goto(`/shoots/${shoot}/first-look`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  for (let n = 1; n < first; n++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('a')
  await page.keyboard.press('a')
  await page.keyboard.press('h')
  const beside = page.getByRole('button', { name: /^\d+ · (open|✓ kept|struck)/ })
  await expect(beside).toHaveText([`${first} · open (at hand)`, `${first + 1} · open`, `${first + 2} · open`])
  await expect(page.getByRole('figure', { name: 'histogram' })).toContainText(/black [<\d].*blown [<\d]/)
  expect(await refusedBy(page, 'frames beside each other')).toEqual([])
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('s')
  await expect(beside).toHaveText([`${first} · open`, `${first + 1} · struck`, `${first + 2} · open (at hand)`])
  await beside.first().click()
  await expect(tape).toHaveAttribute('aria-valuenow', String(first))
  await page.mouse.move(200, 300)
  await page.keyboard.press('Shift+a')
  await page.keyboard.press(' ')
  await expect(page.getByRole('img', { name: / at 1:1$/ })).toHaveCount(2)
  const lefts = async () =>
    Promise.all(
      (await page.getByRole('img', { name: / at 1:1$/ }).all()).map(async (one) =>
        Number.parseInt((await one.getAttribute('data-from')) ?? ''),
      ),
    )
  const [one = 0, other = 0] = await lefts()
  await page.mouse.down()
  await page.mouse.move(260, 300, { steps: 3 })
  await page.mouse.up()
  const [oneThen = 0, otherThen = 0] = await lefts()
  expect(oneThen).toBeLessThan(one)
  expect(otherThen - oneThen).toBe(other - one)
  await page.keyboard.press('Escape')
  await page.getByRole('combobox', { name: 'Frames beside each other' }).click()
  await page.getByRole('option', { name: 'one frame' }).click()
  await expect(beside).toHaveCount(0)
})

test('a frame is rotated by a key, its files on both drives say so, and it is undone', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const { frames } = (await (await page.request.get(`/api/shoots/${shoot}/frames?limit=500`)).json()) as {
    frames: { name: string; facts: { orientation: number | null }; files: { path: string; kind: string }[] }[]
  }
  const n = frames.findIndex(({ facts, files }) => (facts.orientation ?? 1) === 1 && files[0]?.kind === 'jpeg')
  const path = frames[n]?.files[0]?.path ?? ''
  const said = () =>
    [drives.shelf, drives.twin].map((drive) =>
      execFileSync('exiftool', ['-n', '-s3', '-IFD0:Orientation', `${drive}/${path}`])
        .toString()
        .trim(),
    )
  await page.goto(`/shoots/${shoot}/first-look`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  for (let at = 0; at < n; at++) await page.keyboard.press('ArrowRight')
  const picture = page.getByRole('img', { name: frames[n]?.name ?? '', exact: true })
  const isUpright = () => picture.evaluate((one: HTMLImageElement) => one.naturalHeight > one.naturalWidth)
  await expect.poll(isUpright).toBe(false)
  await page.keyboard.press('r')
  await expect.poll(isUpright).toBe(true)
  await expect.poll(said, { timeout: 30_000 }).toEqual(['6', '6'])
  await page.getByRole('button', { name: 'Rotate to the left' }).click()
  await expect.poll(isUpright).toBe(false)
  await page.getByRole('button', { name: 'Undo rotation of 1 frame' }).click()
  await expect.poll(isUpright).toBe(true)
  await page.keyboard.press('Control+z')
  await expect.poll(isUpright).toBe(false)
  await expect.poll(said, { timeout: 30_000 }).toEqual(['1', '1'])
})

test('groups are folded, judged as one, opened and folded again', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  const all = (await passOf(page, shoot)).frames.length
  await page.goto(`/shoots/${shoot}/first-look`)
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  const counted = page.getByRole('status').filter({ hasText: 'judged' })
  await expect(tape).toHaveAttribute('aria-valuenow', '1')
  // what a menu is open for is not done to the frame
  const filter = page.getByRole('combobox', { name: 'First look at' })
  await filter.click()
  await page.keyboard.press('k')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('option')).toHaveCount(0)
  await expect(counted).toContainText('0 kept')
  await expect(page).toHaveURL(/first-look$/)

  await page.keyboard.press('g')
  await expect(page.getByRole('checkbox', { name: 'fold groups' })).toBeChecked()
  const asOne = page.getByText(/^\d+ in a burst, judged as one$/)
  for (let n = 0; n < all && !(await asOne.isVisible()); n++) await page.keyboard.press('ArrowRight')
  const many = Number.parseInt((await asOne.textContent()) ?? '')
  const at = Number(await tape.getAttribute('aria-valuenow'))
  await page.keyboard.press('s')
  await expect(counted).toHaveText(new RegExp(`${many} struck.*${all - many} open`))
  await expect(tape).not.toHaveAttribute('aria-valuenow', String(at)) // it went on
  await page.keyboard.press('Control+z')
  await expect(counted).toHaveText(new RegExp(`0 struck.*${all} open`))
  await page.keyboard.press('ArrowLeft')
  await expect(tape).toHaveAttribute('aria-valuenow', String(at))
  expect(await refusedBy(page, 'a first look whose groups are folded')).toEqual([])
  await page.keyboard.press('g')
  await expect(page.getByText(new RegExp(`of ${many} in a burst`))).toBeVisible()
  await page.keyboard.press('s')
  await expect(counted).toHaveText(new RegExp(`1 struck.*${all - 1} open`))
  await page.getByRole('checkbox', { name: 'fold groups' }).click()
  await expect(page.getByRole('button', { name: 'fold them' })).toHaveCount(0)
})

test('tabs are made, set by their letters, found again, and written where they are to be', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  await page.goto(`/shoots/${shoot}/first-look`)
  const menu = page.getByRole('dialog', { name: 'Tabs' })
  const has = page.getByRole('group', { name: /^Tabs: / })
  await expect(page.getByRole('slider', { name: 'Tape of the pass' })).toBeVisible()
  await page.keyboard.press('t')
  for (const { name, writing } of [
    { name: 'Boats', writing: 'as the label' },
    { name: 'Bridge', writing: 'no' },
  ]) {
    await menu.getByRole('button', { name: 'New tab' }).click()
    await menu.getByLabel('Name').fill(name)
    await menu.getByLabel(writing).check()
    await menu.getByRole('button', { name: 'Save' }).click()
    await expect(menu.getByRole('button', { name: `Edit ${name}` })).toBeVisible()
  }
  expect(await refusedBy(page, 'tabs')).toEqual([])
  // letters are those of tabs while they are shown, and verdicts again behind them
  await page.keyboard.press('b')
  await expect(menu).toHaveCount(0)
  await expect(has).toHaveAccessibleName('Tabs: Boats')
  await page.keyboard.press('t')
  await expect(menu).toBeVisible()
  await page.keyboard.press('r')
  await expect(has).toHaveAccessibleName('Tabs: Boats, Bridge')
  await expect(page.locator('body')).toBeFocused() // so the space bar is for 1:1, and opens no menu
  await page.keyboard.press('t')
  await menu.getByRole('button', { name: 'Edit Bridge' }).click()
  await menu.getByLabel('Name').fill('boats')
  await menu.getByRole('button', { name: 'Save' }).click()
  await expect(menu).toContainText('There is a tab “Boats” already.')
  await page.keyboard.press('Escape')
  await expect(menu).toHaveCount(0)
  await expect(page).toHaveURL(/first-look$/)
  await page.keyboard.press('k')
  await expect(page.getByRole('status').filter({ hasText: 'judged' })).toContainText('1 kept')
  await expect(has).toHaveCount(0) // of the next frame

  await page.getByRole('button', { name: 'only some of them' }).click()
  await page.getByRole('combobox', { name: 'Tab' }).click()
  await page.getByRole('option', { name: 'Bridge (1)' }).click()
  await expect(has).toHaveAccessibleName('Tabs: Boats, Bridge')
  const label = () =>
    spawnSync('exiftool', ['-q', '-q', '-r', '-if', '$XMP-xmp:Label', '-p', '$XMP-xmp:Label', drives.twin])
      .stdout.toString()
      .trim()
  await expect.poll(label, { timeout: 30_000, intervals: [1_000] }).toMatch(/^Boats(\nBoats)*$/)

  // one that is deleted says before what it takes along
  for (const [each, sentence] of [
    ['Boats', 'Delete “Boats”? 1 frame loses it, and the label that it wrote.'],
    ['Bridge', 'Delete “Bridge”? 1 frame loses it.'],
  ] as const) {
    await page.getByRole('button', { name: 'Tab', exact: true }).click()
    await menu.getByRole('button', { name: `Edit ${each}` }).click()
    await menu.getByRole('button', { name: 'Delete' }).click()
    await expect(menu).toContainText(sentence)
    await menu.getByRole('button', { name: 'Delete' }).click()
    await expect(menu.getByRole('button', { name: `Edit ${each}` })).toHaveCount(0)
    await page.keyboard.press('Escape')
    await expect(menu).toHaveCount(0)
  }
  await expect(has).toHaveCount(0)
})

test('a pass is narrowed by what its frames differ in, with counts that follow', async ({ page }) => {
  const shoot = await shootOf(page, 'Lantern Regatta')
  await page.goto(`/shoots/${shoot}/first-look`)
  await page.getByRole('button', { name: 'only some of them' }).click()
  const narrow = page.getByRole('group', { name: 'only some of them' })
  await narrow.getByRole('combobox', { name: 'Camera' }).click()
  const offered = page.getByRole('option', { name: /^Heron 3 \(\d+\)$/ })
  const many = Number(/\((\d+)\)/.exec((await offered.textContent()) ?? '')?.[1])
  // what is behind the list is hidden and takes no focus: the list keeps it until it is closed
  expect(await refusedBy(page, 'an open choice', ['aria-hidden-focus'])).toEqual([])
  expect(many).toBeGreaterThan(10)
  await offered.click()
  await expect(narrow).toContainText(`${many} frames`)
  await narrow.getByRole('combobox', { name: 'Hour' }).click()
  const hours = await page.getByRole('option').filter({ hasText: ' to ' }).allTextContents()
  const count = (text: string) => Number(/\((\d+)\)/.exec(text)?.[1])
  expect(hours.reduce((sum, text) => sum + count(text), 0)).toBe(many)
  const [hour = ''] = hours.filter((text) => count(text) > 1)
  await page.getByRole('option', { name: hour }).click()
  await expect(narrow).toContainText(`${count(hour)} frames`)
  expect(await refusedBy(page, 'a first look that is narrowed')).toEqual([])
  // the pass goes from one of them to the next, and ends with the last one
  const tape = page.getByRole('slider', { name: 'Tape of the pass' })
  await page.keyboard.press('End')
  const last = await tape.getAttribute('aria-valuenow')
  await page.keyboard.press('Home')
  for (let n = 1; n < count(hour); n++) {
    await expect(tape).not.toHaveAttribute('aria-valuenow', last ?? '')
    await page.keyboard.press('ArrowRight')
  }
  await expect(tape).toHaveAttribute('aria-valuenow', last ?? '')
  await page.getByRole('button', { name: 'all of them' }).click()
  await expect(narrow).toHaveCount(0)
})

test('struck frames are set aside on both drives, thrown away, and brought back as they were', async ({ page }) => {
  test.setTimeout(90_000)
  const shoot = await shootOf(page, 'Lantern Regatta')
  const all = (await passOf(page, shoot)).frames.length
  const files = (root: string, below: string) =>
    execFileSync('find', [root, '-type', 'f', '-path', `*${below}*`, '!', '-name', '.*'])
      .toString()
      .split('\n')
      .filter((path) => path !== '')
      .map((path) => path.slice(root.length))
      .sort()
  const places = () => [drives.shelf, drives.twin].map((root) => files(root, 'Lantern Regatta'))
  // what earlier tests said is written
  await expect
    .poll(
      async () => ((await (await page.request.get(`/api/shoots/${shoot}`)).json()) as { waiting: number }).waiting,
      { timeout: 30_000 },
    )
    .toBe(0)
  const before = places()

  // two are struck in the contact sheet of the shoot, one of them with stars
  await page.goto(`/shoots/${shoot}`)
  const sheet = page.getByRole('listbox', { name: 'Contact sheet of Lantern Regatta' })
  await sheet.getByRole('option').nth(1).click()
  await page.keyboard.press('s')
  await expect(page.getByRole('link', { name: 'Set 1 struck frame aside' })).toBeVisible()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('s')
  await page.getByRole('link', { name: 'Set 2 struck frames aside' }).click()
  await expect(page.getByRole('heading', { name: '2 struck frames still in the shoot' })).toBeVisible()
  expect(await refusedBy(page, 'frames that are struck')).toEqual([])
  await page.getByRole('button', { name: 'Set 2 frames aside' }).click()
  await expect(page.getByRole('heading', { name: '2 frames set aside' })).toBeVisible()
  const moving = page.getByRole('status').filter({ hasText: 'Moving' })
  await expect(moving).toHaveCount(0)
  for (const root of [drives.shelf, drives.twin])
    await expect.poll(() => files(root, 'Lantern Regatta, set aside').length).toBeGreaterThan(1)
  expect((await passOf(page, shoot)).frames).toHaveLength(all - 2)

  // one of them comes back, the other goes to the trash, whose deletion is asked for and left
  await page.getByRole('listbox', { name: 'Frames that are set aside' }).getByRole('option').first().click()
  await page.getByRole('button', { name: 'Bring 1 frame back' }).click()
  await expect(page.getByRole('heading', { name: '1 frame set aside' })).toBeVisible()
  await expect(moving).toHaveCount(0)
  await page.getByRole('button', { name: 'Throw them away…' }).click()
  await expect(page.getByRole('button', { name: 'Cancel' })).toBeFocused()
  expect(await refusedBy(page, 'a question before what cannot be undone')).toEqual([])
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Throw them away…' })).toBeFocused()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Throw them away', exact: true }).click()
  await expect(page.getByRole('heading', { name: '1 frame in the trash' })).toBeVisible()
  await expect.poll(() => files(drives.twin, 'Trash').length).toBeGreaterThan(0)
  await expect(moving).toHaveCount(0)
  await page.getByRole('button', { name: 'Delete them for good…' }).click()
  const sure = page.getByRole('alertdialog', { name: 'Delete them for good' })
  await expect(sure).toContainText(/Delete 1 frame \(\d+ files?, .*\), in each of 2 places\?/)
  expect(await refusedBy(page, 'a deletion that is asked for')).toEqual([])
  await sure.getByRole('button', { name: 'Cancel' }).click()

  await page.getByRole('button', { name: 'Bring 1 frame back' }).click()
  await expect(page.getByRole('heading', { name: '2 struck frames still in the shoot' })).toBeVisible()
  await expect(moving).toHaveCount(0)
  await expect.poll(places).toEqual(before)
  expect((await passOf(page, shoot)).frames.filter(({ verdict }) => verdict === 'struck')).toHaveLength(2)
})

/** Numbers from 0 to 1 that come again with the same seed: mulberry32, a public-domain generator (from memory). */
function randomBy(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

test('whatever two windows judge, undo and redo, and however late they are answered, all end with the same', async ({
  page,
  context,
}) => {
  test.setTimeout(150_000)
  const seed = Math.floor(Math.random() * 1e6)
  test.info().annotations.push({ type: 'seed', description: String(seed) })
  const random = randomBy(seed)
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)] as T
  const shoot = await shootOf(page, 'Lantern Regatta')
  const frames = 6
  const other = await context.newPage()
  const windows = [page, other]
  for (const one of windows) {
    // answers come late, each by another while, so that a later one may be the first
    await one.route(`**/api/shoots/${shoot}/{verdicts,undo,redo}`, async (route) => {
      const late = random() * 250
      const answer = await route.fetch()
      await new Promise((answered) => setTimeout(answered, late))
      await route.fulfill({ response: answer }).catch(() => undefined)
    })
    await one.goto(`/shoots/${shoot}/first-look`)
    await one.getByRole('checkbox', { name: 'go on to the next open frame' }).uncheck()
    await one.keyboard.press('Home')
  }
  const tape = (one: Page) => one.getByRole('slider', { name: 'Tape of the pass' })
  const keys = ['k', 's', 'o', '0', '1', '2', '3', '4', '5', 'Control+z', 'Control+z', 'Control+y']
  for (let n = 0; n < 60; n++) {
    const one = pick(windows)
    const at = 1 + Math.floor(random() * frames)
    for (let now = Number(await tape(one).getAttribute('aria-valuenow')); now !== at; now += Math.sign(at - now))
      await one.keyboard.press(now < at ? 'ArrowRight' : 'ArrowLeft')
    await expect(tape(one)).toHaveAttribute('aria-valuenow', String(at))
    for (let more = 1 + Math.floor(random() * 3); more > 0; more--) await one.keyboard.press(pick(keys))
  }

  const shown = async (one: Page): Promise<string[]> => {
    await one.keyboard.press('Home')
    const said = []
    for (let n = 1; n <= frames; n++) {
      await expect(tape(one)).toHaveAttribute('aria-valuenow', String(n))
      const stars = await one
        .getByRole('button', { name: /^\d stars?$/, pressed: true })
        .filter({ hasText: '★' })
        .getAttribute('aria-label', { timeout: 50 })
        .catch(() => null)
      said.push(`${(await tape(one).getAttribute('aria-valuetext'))?.split(', ')[1] ?? ''} ${stars?.[0] ?? '0'}`)
      await one.keyboard.press('ArrowRight')
    }
    return said
  }
  const kept = async () =>
    (await passOf(page, shoot)).frames.slice(0, frames).map(({ verdict, stars }) => `${verdict} ${stars ?? 0}`)
  for (const one of windows)
    await expect
      .poll(
        async () => {
          const [said, is] = [(await shown(one)).join(', '), (await kept()).join(', ')]
          return said === is ? 'the same' : `shown: ${said}; kept: ${is}`
        },
        { timeout: 30_000 },
      )
      .toBe('the same')

  // what the server has is in the files of both drives, when nothing waits any more
  const waiting = async () =>
    ((await (await page.request.get(`/api/shoots/${shoot}`)).json()) as { waiting: number }).waiting
  await expect.poll(waiting, { timeout: 40_000 }).toBe(0)
  const listed = (await (await page.request.get(`/api/shoots/${shoot}/frames?limit=${frames}`)).json()) as {
    frames: { stars: number | null; files: { path: string; kind: string }[] }[]
  }
  for (const { stars, files } of listed.frames)
    for (const { path } of files.filter(({ kind }) => kind === 'jpeg'))
      for (const root of [drives.shelf, drives.twin]) {
        const said = execFileSync('exiftool', ['-s3', '-XMP-xmp:Rating', `${root}/${path}`])
          .toString()
          .trim()
        expect(said === '' ? 0 : Number(said), path).toBe(stars ?? 0)
      }
  await other.close()
})
