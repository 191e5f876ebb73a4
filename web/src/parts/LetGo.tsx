import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api } from '../api/client'
import { Sure } from './Sure'
import { plural } from './words'

/** The explicit word that frames left out need not be filed. Asked twice: with the card formatted they are gone. */
export function LetGo({ card, frames }: { card: number; frames: number }) {
  const queries = useQueryClient()
  const letGo = useMutation({
    mutationFn: () => api.letGo(card),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['bays'] })
      void queries.invalidateQueries({ queryKey: ['sheet'] })
    },
  })
  return (
    <Sure
      small
      ask={frames === 1 ? 'I don’t need it' : 'I don’t need these'}
      says={`${plural(frames, 'frame')} will be gone when the card is formatted.`}
      act={`Give ${frames === 1 ? 'it' : 'them'} up`}
      isBusy={letGo.isPending}
      onAct={letGo.mutate}
    />
  )
}
