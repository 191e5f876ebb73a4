import { listen, type Told } from './stream'

/**
 * One connection for all pages of a browser: HTTP/1.1 allows six to a host, and a stream holds its own for good. A page
 * says `true` when it is there and `false` when it goes.
 */
const pages = new Set<MessagePort>()
let isOpen = false
let stop: (() => void) | null = null

const tell = (told: Told): void => {
  if (told.topic === 'open') isOpen = true
  for (const page of pages) page.postMessage(told)
}

const scope = self as unknown as { onconnect: (event: MessageEvent) => void }
scope.onconnect = ({ ports: [page] }) => {
  if (!page) return
  page.onmessage = ({ data: isThere }: MessageEvent<boolean>) => {
    if (isThere) {
      pages.add(page)
      stop ??= listen(tell)
      if (isOpen) page.postMessage({ topic: 'open' } satisfies Told)
    } else {
      pages.delete(page)
      if (pages.size > 0) return
      stop?.()
      stop = null
      isOpen = false
    }
  }
}
