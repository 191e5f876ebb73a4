// @vitest-environment jsdom
import { http, HttpResponse } from 'msw'
import { setupServer } from 'msw/node'
import { File as BinaryFile } from 'node:buffer'
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest'
import { api } from '../src/api/client'

const server = setupServer()
beforeAll(() => {
  server.listen({ onUnhandledRequest: 'error' })
})
afterEach(() => {
  server.resetHandlers()
})
afterAll(() => {
  server.close()
})

const at = (path: string) => new URL(path, location.origin).href

test('a refusal is the sentence of its problem document', async () => {
  server.use(
    http.post(at('/api/sheets/7/edits'), () =>
      HttpResponse.json(
        { type: 'about:blank', title: 'Conflict', status: 409, detail: 'The intake is under way.' },
        { status: 409, headers: { 'Content-Type': 'application/problem+json' } },
      ),
    ),
  )
  await expect(api.editSheet(7, { do: 'undo' }, 'a key')).rejects.toMatchObject({
    message: 'The intake is under way.',
    status: 409,
  })
})

test('a server that is no server of ours, or none at all, is told in a sentence, too', async () => {
  server.use(http.get(at('/api/bays'), () => new HttpResponse('<html>', { status: 502 })))
  await expect(api.bays()).rejects.toMatchObject({ message: 'The server answered with 502.', status: 502 })
  server.use(http.get(at('/api/bays'), () => HttpResponse.error()))
  await expect(api.bays()).rejects.toMatchObject({
    message: 'Velvet Ledger does not answer. It may be starting again; what was being copied goes on by itself.',
    status: 0,
  })
})

test('an answer without a body is one', async () => {
  server.use(http.post(at('/api/shoots/7/look'), () => new HttpResponse(null, { status: 202 })))
  await expect(api.lookAtShoot(7)).resolves.toBeUndefined()
})

test('what is sent is what was meant, also in an address and in a list that is no text', async () => {
  const seen: string[] = []
  server.use(
    http.put(at('/api/styles/:name'), async ({ params, request }) => {
      seen.push(String(params.name), request.headers.get('content-type') ?? '', JSON.stringify(await request.json()))
      return HttpResponse.json({})
    }),
    http.post(at('/api/keywords/import'), async ({ request }) => {
      seen.push(new URL(request.url).searchParams.get('name') ?? '', String((await request.arrayBuffer()).byteLength))
      return HttpResponse.json({})
    }),
  )
  await api.saveStyle('Weddings / “A”', {} as never)
  // jsdom's own is none that fetch knows
  const list = new BinaryFile([new Uint8Array([0xff, 0xfe, 0x41, 0x00])], 'harbour, old.txt')
  await api.importKeywords(list as unknown as File)
  expect(seen).toEqual(['Weddings / “A”', 'application/json', '{"style":{}}', 'harbour, old.txt', '4'])
})

test('a change goes out though its page is left, and one that is too long for that goes as well', async () => {
  const lasting: boolean[] = []
  server.use(
    http.patch(at('/api/shoots/7/verdicts'), ({ request }) => {
      lasting.push(request.keepalive)
      return HttpResponse.json({ undo: null, redo: null })
    }),
  )
  await api.judge(7, [{ frames: [1], verdict: 'kept' }])
  await api.judge(7, [{ frames: Array.from({ length: 20_000 }, (_, n) => n + 100_000), verdict: 'struck' }])
  expect(lasting).toEqual([true, false])
})
