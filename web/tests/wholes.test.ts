// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest'

/** A picture of 24 megapixels, and what was done to it. */
class Bitmap {
  width = 6000
  height = 4000
  close = vi.fn()
}

const decoded = new Map<string, Bitmap>()
const asked: string[] = []
const stopped: string[] = []
let wholes: typeof import('../src/stage/wholes')

const settled = () => new Promise((resolve) => setTimeout(resolve))
const isClosed = (picture: string) => (decoded.get(picture)?.close.mock.calls.length ?? 0) > 0

beforeEach(async () => {
  vi.resetModules()
  vi.unstubAllGlobals()
  for (const list of [asked, stopped]) list.length = 0
  decoded.clear()
  vi.stubGlobal('fetch', (src: string, { signal }: { signal: AbortSignal }) => {
    const picture = /16384\/(.)/.exec(src)?.[1] ?? ''
    asked.push(picture)
    signal.addEventListener('abort', () => stopped.push(picture))
    return Promise.resolve({ ok: picture !== 'x', blob: () => Promise.resolve(picture) })
  })
  vi.stubGlobal('createImageBitmap', (picture: string) => {
    const bitmap = new Bitmap()
    decoded.set(picture, bitmap)
    return Promise.resolve(bitmap)
  })
  wholes = await import('../src/stage/wholes')
})

describe('pictures at 1:1', () => {
  it('holds what is looked at, the next and the one before, and closes what lies further back', async () => {
    let look = wholes.lookAtWhole('a')
    wholes.wholeAhead('b')
    await settled()
    for (const [here, next] of [
      ['b', 'c'],
      ['c', 'd'],
    ] as const) {
      look.end()
      look = wholes.lookAtWhole(here)
      wholes.wholeAhead(next)
      await settled()
    }
    expect(asked).toEqual(['a', 'b', 'c', 'd'])
    expect(['a', 'b', 'c', 'd'].map(isClosed)).toEqual([true, false, false, false])
    expect(wholes.readyWhole('b')).not.toBeNull()
    // and back: it was held, and is still
    look.end()
    wholes.lookAtWhole('b')
    await settled()
    expect(asked).toEqual(['a', 'b', 'c', 'd'])
    expect(['b', 'c', 'd'].map(isClosed)).toEqual([false, false, false])
  })

  it('holds the last one alone when none is looked at any more', async () => {
    const look = wholes.lookAtWhole('a')
    wholes.wholeAhead('b')
    await settled()
    look.end()
    await settled()
    expect(['a', 'b'].map(isClosed)).toEqual([false, true])
  })

  it('holds all that are looked at beside each other', async () => {
    for (const picture of ['a', 'b', 'c', 'd']) wholes.lookAtWhole(picture)
    await settled()
    expect(['a', 'b', 'c', 'd'].some(isClosed)).toBe(false)
  })

  it('stops fetching what was gone past', async () => {
    wholes.lookAtWhole('a').end()
    const b = wholes.lookAtWhole('b')
    await settled()
    expect(stopped).toEqual(['a'])
    expect(wholes.readyWhole('a')).toBeNull()
    await expect(b.bitmap).resolves.toBe(decoded.get('b'))
  })

  it('asks again for what could not be had', async () => {
    await expect(wholes.lookAtWhole('x').bitmap).rejects.toThrow()
    await expect(wholes.lookAtWhole('x').bitmap).rejects.toThrow()
    expect(asked).toEqual(['x', 'x'])
  })
})
