import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api/client'
import { plural } from './words'

/** The explicit word that frames left out need not be filed. Asked twice: with the card formatted they are gone. */
export function LetGo({ card, frames }: { card: number; frames: number }) {
  const queries = useQueryClient()
  const [asked, setAsked] = useState(false)
  const letGo = useMutation({
    mutationFn: () => api.letGo(card),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['bays'] })
      void queries.invalidateQueries({ queryKey: ['sheet'] })
    },
  })
  if (letGo.error)
    return (
      <span role="alert" className="text-[13px] text-brass">
        {letGo.error.message}
      </span>
    )
  if (!asked)
    return (
      <button
        type="button"
        className="link text-[13px]"
        onClick={() => {
          setAsked(true)
        }}
      >
        {frames === 1 ? 'I don’t need it' : 'I don’t need these'}
      </button>
    )
  return (
    <span className="text-[13px]">
      {plural(frames, 'frame')} will be gone when the card is formatted.{' '}
      <button
        type="button"
        className="link font-semibold"
        disabled={letGo.isPending}
        onClick={() => {
          letGo.mutate()
        }}
      >
        Give {frames === 1 ? 'it' : 'them'} up
      </button>{' '}
      <button
        type="button"
        className="link"
        onClick={() => {
          setAsked(false)
        }}
      >
        Cancel
      </button>
    </span>
  )
}
