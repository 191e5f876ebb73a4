import { describe, expect, it } from 'vitest'
import { beside } from '../src/model/beside'
import { BINS, hatched, lightOf, percent } from '../src/model/light'

const pixels = (...colours: [number, number, number][]) =>
  new Uint8ClampedArray(colours.flatMap((colour) => [...colour, 255]))

describe('the light of a picture', () => {
  it('is spread by luminance and by the brightest channel', () => {
    const { luminance, brightest, blown, black } = lightOf(
      pixels([255, 0, 0], [0, 0, 0], [128, 128, 128], [128, 128, 128]),
    )
    // ITU-R BT.709: red weighs 0.2126, so a full red is 54 of 255
    expect(luminance[Math.floor((54 * BINS) / 256)]).toBe(0.25)
    expect(luminance[BINS / 2]).toBe(0.5)
    expect(brightest[BINS - 1]).toBe(0.25)
    expect([blown, black]).toEqual([0.25, 0.25])
    for (const bins of [luminance, brightest]) expect(bins.reduce((sum, share) => sum + share)).toBeCloseTo(1)
  })

  it('is hatched where a channel is full or none has anything, and nowhere else', () => {
    const rows = 20
    const grey = hatched(pixels(...Array.from({ length: 400 }, (): [number, number, number] => [128, 2, 253])), 20)
    expect(grey.every((value) => value === 0)).toBe(true)
    const blown = hatched(pixels(...Array.from({ length: 400 }, (): [number, number, number] => [10, 255, 10])), 20)
    const black = hatched(pixels(...Array.from({ length: 400 }, (): [number, number, number] => [0, 1, 0])), 20)
    const opaque = (lines: Uint8ClampedArray) => lines.filter((_, at) => at % 4 === 3).map((alpha) => alpha / 255)
    for (const lines of [blown, black]) expect(opaque(lines).reduce((sum, alpha) => sum + alpha)).toBe(20 * (rows / 2))
    // black lines over white, white ones over black, the other way round
    expect([blown[0], blown[3]]).toEqual([0, 255])
    expect([black[0], black[3]]).toEqual([255, 255])
    expect(opaque(blown)).not.toEqual(opaque(black))
  })

  it('is said in words', () => {
    expect([0, 0.0002, 0.012, 0.342].map(percent)).toEqual(['0 %', '< 0.1 %', '1.2 %', '34 %'])
  })
})

describe('frames beside each other', () => {
  it('stay where they are while one goes through them', () => {
    const pass = [0, 1, 2, 5, 6, 9]
    expect([0, 1, 2, 3].map((place) => beside(pass, place, 2))).toEqual([
      [0, 1],
      [0, 1],
      [2, 5],
      [2, 5],
    ])
    expect(beside(pass, 5, 4)).toEqual([2, 5, 6, 9])
    expect(beside(pass, 5, 1)).toEqual([9])
    expect(beside([7], 0, 4)).toEqual([7])
  })
})
