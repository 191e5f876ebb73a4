import { describe, expect, it } from 'vitest'
import { pointed, upright, within } from '../src/model/closer'

describe('every pixel', () => {
  // EXIF 2.32, orientation: which corner the first row and column lie at
  it.each([
    [1, 0.2, 0.1],
    [2, 0.8, 0.1],
    [3, 0.8, 0.9],
    [4, 0.2, 0.9],
    [5, 0.1, 0.2],
    [6, 0.9, 0.2],
    [7, 0.9, 0.8],
    [8, 0.1, 0.8],
  ])('a point of a picture of orientation %i is found in the upright one', (orientation, x, y) => {
    const found = upright({ x: 0.2, y: 0.1 }, orientation)
    expect(found.x).toBeCloseTo(x)
    expect(found.y).toBeCloseTo(y)
  })

  it('keeps the window within the picture, and a small picture in the middle', () => {
    const window = { width: 1000, height: 500 }
    expect(within({ x: 0, y: 1 }, { width: 4000, height: 2000 }, window)).toEqual({ x: 0.125, y: 0.875 })
    expect(within({ x: 0.4, y: 0.9 }, { width: 800, height: 1000 }, window)).toEqual({ x: 0.5, y: 0.75 })
  })

  it('knows what of a fitted picture is pointed at, and what is beside it', () => {
    const box = { width: 1000, height: 500 }
    expect(pointed({ x: 500, y: 250 }, { width: 400, height: 400 }, box)).toEqual({ x: 0.5, y: 0.5 })
    expect(pointed({ x: 250, y: 0 }, { width: 400, height: 400 }, box)).toEqual({ x: 0, y: 0 })
    expect(pointed({ x: 100, y: 250 }, { width: 400, height: 400 }, box)).toBeNull()
  })
})
