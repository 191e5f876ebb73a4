import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Bays, Pass, Sheet, ShootFrame } from '../api/client'
import { passKey, withJudged } from '../model/judged'
import { fileName, withinNow, withProgress, type Within } from '../model/copying'
import { outdateFrames, ownRevision } from './open-sheets'
import { listenTogether } from './shared-stream'
import type { Happenings, Topic } from './stream'

/** Asking again for what changed, at most so often: a copy tells of itself many times a second. */
const PATIENCE = 300
/** The same for the frames in sight, which appear as they are copied. */
const LOOK = 1_000
/** The same for what only counts: somebody who judges frames judges many. */
const LEISURE = 3_000

/**
 * Listens to the server's events and keeps what is shown up to date. The browser connects again by itself and says what
 * it heard last; after a break everything is asked for anew, in case the break was long.
 */
export function useFeed(): void {
  const queries = useQueryClient()
  useEffect(() => {
    const waiting = new Map<string, number>()
    const later = (name: string, act: () => void, patience = PATIENCE) => {
      if (waiting.has(name)) return
      waiting.set(
        name,
        window.setTimeout(() => {
          waiting.delete(name)
          act()
        }, patience),
      )
    }
    const again = (...key: (string | number)[]) => {
      later(key.join('/'), () => void queries.invalidateQueries({ queryKey: key }))
    }
    const acts = new Map<Topic, (payload: never) => void>()
    const hear = <T extends Topic>(topic: T, act: (payload: Happenings[T]) => void) => {
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
      cardTold(queries, payload, again)
    })
    hear('sheet', (payload) => {
      // what this page did itself it asks for by itself, as soon as all of it is answered
      const { id, revision } = payload
      later(`sheet/${id}/${revision ?? ''}`, () => {
        if (revision !== undefined && revision <= ownRevision(id)) return
        void queries.invalidateQueries({ queryKey: ['sheet', id] })
        void queries.invalidateQueries({ queryKey: ['tape', id] })
        outdateFrames(id)
      })
    })
    hear('intake', (told) => {
      const { id, state } = told
      copyTold(queries, told)
      if (state) {
        again('sheet', id)
        again('frames', 'sheet', id)
        again('bays')
        for (const key of ['shoots', 'pass', 'ledger']) again(key)
      } else if (told.progress) {
        later(`arriving/${id}`, () => void queries.invalidateQueries({ queryKey: ['frames', 'sheet', id] }), LOOK)
        for (const key of ['shoots', 'pass', 'ledger'])
          later(`leisure/${key}`, () => void queries.invalidateQueries({ queryKey: [key] }), LEISURE)
      }
    })
    hear('metadata', ({ left }) => {
      queries.setQueryData<Bays>(['bays'], (bays) => bays && { ...bays, to_write: left })
      again('shoots')
    })
    hear('dng', ({ intake }) => {
      if (intake !== null) {
        again('sheet', intake)
        again('frames', 'sheet', intake)
      }
      again('bays')
      again('shoots')
      again('frames', 'shoot')
    })
    hear('shoot', ({ id }) => {
      again('shoots')
      again('pass', id)
      again('frames', 'shoot', id)
      again('ledger')
    })
    hear('tabs', () => {
      again('tabs')
      again('pass')
    })
    hear('judged', (payload) => {
      const { shoot, frames } = payload
      if (frames === null) again('pass', shoot)
      else {
        const told = new Map(frames.map((frame) => [frame.id, frame]))
        queries.setQueryData<Pass>(passKey(shoot), (pass) => pass && withJudged(pass, payload))
        queries.setQueriesData<ShootFrame[]>({ queryKey: ['frames', 'shoot', shoot] }, (known) =>
          known?.map((frame) => ({ ...frame, ...told.get(frame.id) })),
        )
      }
      // a rotated frame has other facts, too
      if (frames === null || frames.some((frame) => frame.picture !== undefined)) again('frames', 'shoot', shoot)
      later(
        'judged',
        () => {
          for (const key of ['shoots', 'bays']) void queries.invalidateQueries({ queryKey: [key] })
          receiptsAgain(queries)
        },
        LEISURE,
      )
    })
    const stop = listenTogether((told) => {
      if (told.topic === 'open') void queries.invalidateQueries()
      else acts.get(told.topic)?.(JSON.parse(told.data) as never)
    })
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

/** How far a copy is comes with what is told of it; what went wrong is asked for. */
function copyTold(queries: QueryClient, told: Happenings['intake']): void {
  const { id, target, step, bytes_within } = told
  const known = queries.getQueryData<Sheet>(['sheet', id])
  if (known) {
    const now = withProgress(known, told)
    // what tells nothing new must not make pass for fresh what is to be asked for again
    if (now !== known) queries.setQueryData<Sheet>(['sheet', id], now)
    if (now.progress?.failed !== known.progress?.failed) void queries.invalidateQueries({ queryKey: ['sheet', id] })
  }
  if (!target || !step) return
  const name = fileName(target)
  queries.setQueryData<Within>(['within', id], (known = {}) => withinNow(known, name, step, bytes_within ?? 0))
}

function cardTold(queries: QueryClient, card: Happenings['card'], again: (...key: string[]) => void): void {
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
