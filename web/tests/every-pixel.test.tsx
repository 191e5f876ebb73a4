// @vitest-environment jsdom
import { act, cleanup, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { Closer } from '../src/stage/Closer'
import { wholeAhead } from '../src/stage/wholes'

const bitmap = { width: 6000, height: 4000, close: vi.fn() }
const drawn = { clearRect: vi.fn(), drawImage: vi.fn() }

beforeEach(() => {
  vi.stubGlobal('fetch', () => Promise.resolve({ ok: true, blob: () => Promise.resolve(null) }))
  vi.stubGlobal('createImageBitmap', () => Promise.resolve(bitmap))
  vi.stubGlobal('devicePixelRatio', 2)
  // tells nothing before it is painted
  vi.stubGlobal(
    'ResizeObserver',
    vi.fn(
      class {
        observe = vi.fn()
        disconnect = vi.fn()
      },
    ),
  )
  vi.spyOn(HTMLElement.prototype, 'getBoundingClientRect').mockReturnValue(new DOMRect(0, 0, 800, 600))
  vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(drawn as never)
})

afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
})

it('shows what was decoded ahead at once, one pixel of it to one of the screen', async () => {
  await act(async () => {
    wholeAhead('a')
    await new Promise((resolve) => setTimeout(resolve))
  })
  render(<Closer name="Kiln" picture="a" place={{ x: 0.5, y: 0 }} onPlace={() => undefined} />)
  const canvas = screen.getByRole('img', { name: 'Kiln at 1:1' })
  expect([canvas.getAttribute('width'), canvas.getAttribute('height')]).toEqual(['1600', '1200'])
  expect(drawn.drawImage).toHaveBeenLastCalledWith(bitmap, -(3000 - 800), -0)
})
