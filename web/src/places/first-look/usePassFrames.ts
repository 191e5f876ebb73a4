import { skipToken, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type ShootFrame } from '../../api/client'
import { CHUNK } from '../../api/frames'
import type { Tab } from '../../api/tabs'
import { partAt, type Whole } from '../../model/passes'
import type { Seen } from '../../parts/Frame'
import { seenInShoot } from '../../parts/shoot-frames'

/** What was read in the files of a pass's frames, fetched by the hundred about the one that is looked at. */
export function usePassFrames(pass: Whole | undefined, tabs: readonly Tab[]) {
  const [wanted, want] = useState(0)
  const queries = useQueryClient()
  const chunkOf = (position: number) => {
    const part = pass && partAt(pass, position)
    const place = part?.places[position - part.from]
    if (part === undefined || place === undefined) return null
    const chunk = Math.floor(place / CHUNK)
    return { shoot: part.shoot, chunk, at: place % CHUNK, key: ['frames', 'shoot', part.shoot, '', chunk] as const }
  }
  const here = chunkOf(wanted)
  useQuery({
    queryKey: here?.key ?? ['frames'],
    queryFn: here ? () => api.shootFrames(here.shoot, here.chunk * CHUNK, CHUNK) : skipToken,
    staleTime: 30_000,
  })
  return {
    want,
    at: (position: number): Seen | undefined => {
      const there = chunkOf(position)
      const frame = there && queries.getQueryData<ShootFrame[]>(there.key)?.[there.at]
      return frame ? seenInShoot(frame, tabs) : undefined
    },
  }
}
