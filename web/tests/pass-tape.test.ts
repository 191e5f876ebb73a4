import { describe, expect, it } from 'vitest'
import { barOf, passTape, positionAt } from '../src/model/pass-tape'

const everyMinute = (count: number) => Array.from({ length: count }, (_, n) => n * 60)

describe('the tape of a pass', () => {
  it('has a bar for each frame, a gap at a pause, and fits into its width', () => {
    const tape = passTape([0, 30, 60, 7200, 7230, null], 600)
    expect(tape.single).toBe(true)
    expect(tape.bars.map(({ from, to }) => [from, to])).toEqual([0, 1, 2, 3, 4, 5].map((n) => [n, n + 1]))
    expect(tape.stretches).toEqual([0, 3])
    const [third, fourth] = [tape.bars[2], tape.bars[3]]
    expect((fourth?.x ?? 0) - ((third?.x ?? 0) + (third?.width ?? 0))).toBeGreaterThan(5)
  })

  it.each([1, 2, 250, 2_000, 20_000])('shows %i frames within the window, each of them in one bar', (count) => {
    const tape = passTape(everyMinute(count), 1200)
    const last = tape.bars.at(-1)
    expect((last?.x ?? 0) + (last?.width ?? 0)).toBeLessThanOrEqual(1200.001)
    let next = 0
    for (const bar of tape.bars) {
      expect(bar.from).toBe(next)
      next = bar.to
    }
    expect(next).toBe(count)
    for (const position of [0, Math.floor(count / 2), count - 1]) {
      const bar = barOf(tape.bars, position)
      expect(bar && bar.from <= position && position < bar.to).toBe(true)
      expect(bar && barOf(tape.bars, positionAt(tape.bars, bar.x + bar.width / 2))).toBe(bar)
    }
  })

  it('is pointed at: also between the bars, and beyond its ends', () => {
    const tape = passTape(everyMinute(20_000), 1200)
    expect(positionAt(tape.bars, -50)).toBe(0)
    expect(positionAt(tape.bars, 5_000)).toBe(19_999)
    expect(Math.abs(positionAt(tape.bars, 600) - 10_000)).toBeLessThan(50)
    expect(positionAt([], 10)).toBe(0)
  })

  it('is nothing where there is no frame or no room', () => {
    expect(passTape([], 1200).bars).toEqual([])
    expect(passTape([1], 0).bars).toEqual([])
  })
})
