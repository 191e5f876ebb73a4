import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Bays, Sheet } from '../api/client'
import { withinNow, type Within } from '../model/within'
import { ownRevision } from './operations'
import { outdateFrames } from './sheet-frames'

interface CardHappening {
  id: number
  state: Bays['cards'][number]['state']
  frames: number
  frames_read: number
}

interface IntakeHappening {
  id: number
  /** Of the intake, where it is another one now. */
  state?: string
  target?: string | null
  step?: 'copying' | 'verifying'
  bytes_within?: number
}

/** Asking again for what changed, at most so often: a copy tells of itself many times a second. */
const PATIENCE = 300

/**
 * Trying anew where the browser gives up: it does so when the answer was an error, as while the server starts again.
 */
const AGAIN_AFTER = 1_000

/** Keeps a connection to the server's events. @returns how to end it */
function listen(acts: ReadonlyMap<string, (payload: unknown) => void>, onReturn: () => void): () => void {
  let source: EventSource
  let timer = 0
  const connect = () => {
    source = new EventSource('/api/events')
    // also the first time: what happened between a page's first answer and this moment nobody told it
    source.onopen = onReturn
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) timer = window.setTimeout(connect, AGAIN_AFTER)
    }
    for (const [topic, act] of acts)
      source.addEventListener(topic, (event) => {
        act(JSON.parse((event as MessageEvent<string>).data))
      })
  }
  connect()
  return () => {
    window.clearTimeout(timer)
    source.close()
  }
}

/**
 * Listens to the server's events and keeps what is shown up to date. The browser connects again by itself and says what
 * it heard last; after a break everything is asked for anew, in case the break was long.
 */
export function useFeed(): void {
  const queries = useQueryClient()
  useEffect(() => {
    const waiting = new Map<string, number>()
    const later = (name: string, act: () => void) => {
      if (waiting.has(name)) return
      waiting.set(
        name,
        window.setTimeout(() => {
          waiting.delete(name)
          act()
        }, PATIENCE),
      )
    }
    const again = (...key: (string | number)[]) => {
      later(key.join('/'), () => void queries.invalidateQueries({ queryKey: key }))
    }
    const acts = new Map<string, (payload: unknown) => void>()
    const hear = (topic: string, act: (payload: unknown) => void) => {
      acts.set(topic, act)
    }
    hear('bays', () => {
      again('bays')
      again('ledger')
      receiptsAgain(queries)
    })
    hear('ledger', () => {
      again('backups')
    })
    hear('card', (payload) => {
      cardTold(queries, payload as CardHappening, again)
    })
    hear('sheet', (payload) => {
      // what this page did itself it asks for by itself, as soon as all of it is answered
      const { id, revision } = payload as { id: number; revision?: number }
      later(`sheet/${id}/${revision ?? ''}`, () => {
        if (revision !== undefined && revision <= ownRevision(id)) return
        void queries.invalidateQueries({ queryKey: ['sheet', id] })
        void queries.invalidateQueries({ queryKey: ['tape', id] })
        outdateFrames(id)
      })
    })
    hear('intake', (payload) => {
      const { id, state, ...file } = payload as IntakeHappening
      withinTold(queries, id, file)
      again('sheet', id)
      again('frames', 'sheet', id)
      if (state) again('bays')
      again('shoots')
      again('ledger')
    })
    hear('metadata', (payload) => {
      const { left } = payload as { left: number }
      queries.setQueryData<Bays>(['bays'], (bays) => bays && { ...bays, to_write: left })
      again('shoots')
    })
    hear('dng', (payload) => {
      const { intake } = payload as { intake: number | null }
      if (intake !== null) {
        again('sheet', intake)
        again('frames', 'sheet', intake)
      }
      again('bays')
      again('shoots')
      again('frames', 'shoot')
    })
    hear('shoot', () => {
      again('shoots')
    })
    const stop = listen(acts, () => void queries.invalidateQueries())
    return () => {
      stop()
      waiting.forEach((timer) => {
        window.clearTimeout(timer)
      })
    }
  }, [queries])
}

/**
 * A receipt says what is true of its card now; a sheet that is being planned is left alone. What is copied, or not here
 * yet, may be a receipt by the time its answer comes, and say what was true before this was heard.
 */
function receiptsAgain(queries: QueryClient): void {
  void queries.invalidateQueries({
    queryKey: ['sheet'],
    predicate: ({ state }) => (state.data as Sheet | undefined)?.state !== 'sheet',
  })
}

function withinTold(
  queries: QueryClient,
  id: number,
  { target, step, bytes_within }: Omit<IntakeHappening, 'id' | 'state'>,
): void {
  if (!target || !step) return
  const name = target.split('/').at(-1) ?? ''
  queries.setQueryData<Within>(['within', id], (known = {}) => withinNow(known, name, step, bytes_within ?? 0))
}

function cardTold(queries: QueryClient, card: CardHappening, again: (...key: string[]) => void): void {
  queries.setQueryData<Bays>(
    ['bays'],
    (bays) =>
      bays && {
        ...bays,
        cards: bays.cards.map((known) =>
          known.id === card.id
            ? { ...known, state: card.state, frames: card.frames, frames_read: card.frames_read }
            : known,
        ),
      },
  )
  if (card.state !== 'reading') {
    again('bays')
    receiptsAgain(queries)
  }
}
