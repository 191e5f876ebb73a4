// Measures the first look of a filed shoot in Debian's Chromium.
// Called by ./velvet bench look.
//   node look.mjs ADDRESS
import { chromium } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { stdout } from 'node:process'
import { CHROMIUM } from '../chromium.mjs'
import { equipPainted } from './painted.mjs'

const [address] = process.argv.slice(2)
const { shoots } = await (await fetch(new URL('/api/shoots', address))).json()
// an earlier run may have left one of the name
const shoot = Math.max(...shoots.filter(({ name }) => name === 'First look bench').map(({ id }) => id))
const { frames } = await (await fetch(new URL(`/api/shoots/${shoot}/verdicts`, address))).json()

/** Draws all pictures of a size, two at a time as on two cores. @returns frames a second */
async function drawn(size) {
  const since = performance.now()
  const left = [...frames]
  const worker = async () => {
    for (let frame; (frame = left.pop());) {
      const path = `/pictures/${size}/${frame.picture.slice(0, 2)}/${frame.picture.slice(2)}.jpg`
      await (await fetch(new URL(path, address))).arrayBuffer()
    }
  }
  await Promise.all([worker(), worker()])
  return (frames.length * 1000) / (performance.now() - since)
}

await drawn(320) // the card's reading did
const measured = { frames: frames.length, near: await drawn(1024), large: await drawn(2560), screens: [] }
/** Nothing is judged, as before a first look. */
const open = () =>
  fetch(new URL(`/api/shoots/${shoot}/verdicts`, address), {
    method: 'PATCH',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ judgements: [{ verdict: 'open' }] }),
  })
/** What both scripts within the page use. */
function equip() {
  const { painted } = window
  const press = (key) => window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
  const at = () => document.querySelector('[role=slider]').getAttribute('aria-valuenow')
  const shown = () => [...document.querySelectorAll('.mat img')].find((img) => img.alt !== '' && img.complete)
  const isShown = () => (shown()?.naturalWidth ?? 0) > 0
  /** Milliseconds until another frame is on the screen. */
  const next = async (key) => {
    const [since, before] = [performance.now(), at()]
    press(key)
    do await painted()
    while (at() === before || !isShown())
    return performance.now() - since
  }
  const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))
  window.bench = { painted, press, at, isShown, next, pause }
}
const browser = await chromium.launch(CHROMIUM)
/** Megabytes of the largest page: what Linux counts as its own (proportional set size). */
async function memory() {
  const session = await browser.newBrowserCDPSession()
  const { processInfo } = await session.send('SystemInfo.getProcessInfo')
  return Math.max(
    ...processInfo
      .filter(({ type }) => type === 'renderer')
      .map(({ id }) => Number(/^Pss: +(\d+)/m.exec(readFileSync(`/proc/${id}/smaps_rollup`, 'utf8'))?.[1]) / 1024),
  )
}
for (const [width, height] of [
  [1280, 800],
  [1920, 1080],
]) {
  const page = await browser.newPage({ viewport: { width, height } })
  await page.addInitScript(equipPainted)
  await page.addInitScript(equip)
  await open()
  await page.goto(new URL(`/shoots/${shoot}/first-look`, address).href)
  await page.locator('[role=slider][aria-valuenow="1"]').waitFor()
  await page.waitForTimeout(3_000)
  const screen = await page.evaluate(async () => {
    const { painted, press, at, isShown, next, pause } = window.bench
    const moves = []
    for (let n = 0; n < 30; n++) {
      moves.push(await next('ArrowRight'))
      await pause(500)
    }
    const jumps = []
    for (const key of ['End', 'Home', 'End', 'Home']) {
      jumps.push(await next(key))
      await pause(1_000)
    }
    const verdicts = []
    const marks = []
    for (let n = 0; n < 20; n++) {
      const since = performance.now()
      press('3')
      do await painted()
      while (document.querySelector('[aria-label="3 stars"]').getAttribute('aria-pressed') !== 'true')
      marks.push(performance.now() - since)
      verdicts.push(await next(n % 3 === 2 ? 's' : 'k'))
      await pause(500)
    }
    // the arrow is held: 30 presses a second for two seconds
    press('Home')
    await pause(1_000)
    const seen = new Set()
    const until = performance.now() + 2_000
    let held = performance.now()
    while (performance.now() < until) {
      if (performance.now() >= held) {
        press('ArrowRight')
        held += 33
      }
      await painted()
      if (isShown()) seen.add(at())
    }
    // every pixel, of a frame that was never shown so, and of the next
    press('Home')
    await pause(1_000)
    const whole = async (key) => {
      // it is there when its pixels are
      const there = () => document.querySelector('canvas[aria-label$=" at 1:1"]')?.ariaLabel
      const [since, before] = [performance.now(), there()]
      press(key)
      do await painted()
      while ((there() ?? before) === before)
      return performance.now() - since
    }
    const wholes = []
    for (let n = 0; n < 8; n++) {
      wholes.push(await whole(n === 0 ? ' ' : 'ArrowRight'))
      await pause(1_500)
    }
    press('Escape')
    return { moves, jumps, marks, verdicts, held: seen.size / 2, wholes }
  })
  await open()
  await page.goto(new URL(`/shoots/${shoot}/first-look`, address).href)
  await page.locator('[role=slider][aria-valuenow="1"]').waitFor()
  await page.waitForTimeout(3_000)
  // all of it judged as fast as it is shown: 28 of 100 struck, 12 starred
  const cull = await page.evaluate(async () => {
    const { next, press } = window.bench
    const begun = performance.now()
    const count = Number(document.querySelector('[role=slider]').getAttribute('aria-valuemax'))
    for (let n = 1; n <= count; n++) {
      if (n % 8 === 0) press('4')
      if (n < count) await next(n % 25 < 7 ? 's' : 'k')
      else press('k')
    }
    return (performance.now() - begun) / 1000
  })
  const since = performance.now()
  for (let open = 1; open > 0;) {
    const pass = await (await fetch(new URL(`/api/shoots/${shoot}/verdicts`, address))).json()
    open = pass.frames.filter(({ verdict }) => verdict === 'open').length
  }
  measured.screens.push({
    width,
    height,
    ...screen,
    cull,
    known: (performance.now() - since) / 1000,
    memory: await memory(),
  })
  await page.close()
}
await browser.close()
stdout.write(JSON.stringify(measured))
