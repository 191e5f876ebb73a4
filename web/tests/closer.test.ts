import { describe, expect, it } from 'vitest'
import { pointed, within } from '../src/model/closer'

describe('every pixel', () => {
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
