import type { components } from '../api/schema'

/** What the server tells, by topic, as the OpenAPI file declares it. */
export type Happenings = components['schemas']['Happenings']
export type Topic = keyof Happenings

const TOPICS: Record<Topic, true> = {
  bays: true,
  ledger: true,
  card: true,
  sheet: true,
  intake: true,
  metadata: true,
  dng: true,
  shoot: true,
  judged: true,
  tabs: true,
}

/** An event, its data still as they came; or that the stream is open, and what was told before was not heard. */
export type Told = { topic: Topic; data: string } | { topic: 'open' }

/**
 * Trying anew where the browser gives up: it does so when the answer was an error, as while the server starts again.
 */
const AGAIN_AFTER = 1_000

/** Keeps a connection to the server's events. @returns how to end it */
export function listen(tell: (told: Told) => void): () => void {
  let source: EventSource
  let timer: ReturnType<typeof setTimeout>
  const connect = () => {
    source = new EventSource('/api/events')
    // also the first time: what happened between a page's first answer and this moment nobody told it
    source.onopen = () => {
      tell({ topic: 'open' })
    }
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) timer = setTimeout(connect, AGAIN_AFTER)
    }
    for (const topic of Object.keys(TOPICS) as Topic[])
      source.addEventListener(topic, (event) => {
        tell({ topic, data: (event as MessageEvent<string>).data })
      })
  }
  connect()
  return () => {
    clearTimeout(timer)
    source.close()
  }
}
