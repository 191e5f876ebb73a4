import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { api, type Clearance } from '../api/client'
import { LetGo } from './LetGo'
import { answerOf, mayBeLookedAt } from './may-format'

/** What stands against formatting a card, in sentences, with the words that a photographer can say about it. */
export function Reasons({ card, clearance }: { card: number; clearance: Clearance }) {
  return (
    <>
      <span className="wrap-anywhere">{clearance.missing.join(' ')}</span>{' '}
      {clearance.left_out > 0 && clearance.missing.length === 1 && <LetGo card={card} frames={clearance.left_out} />}
      {clearance.copied && <OneDrive card={card} />}
      {mayBeLookedAt(clearance) && <LookAgain card={card} />}
    </>
  )
}

/** The answer in a word, in the colour that means it and nothing else. */
export function Answer({ clearance }: { clearance: Clearance }) {
  return clearance.cleared ? (
    <span className="font-semibold text-verdigris">✓ {answerOf(clearance)}</span>
  ) : (
    <strong className="font-semibold text-brass">{answerOf(clearance)}</strong>
  )
}

/**
 * The photographer's word, for this card and what is on it now. Asked twice: with the card formatted, one broken drive
 * takes everything.
 */
function OneDrive({ card }: { card: number }) {
  const [asked, setAsked] = useState(false)
  const say = useWord(() => api.oneDriveIsEnough(card))
  if (!asked)
    return (
      <Act
        onClick={() => {
          setAsked(true)
        }}
      >
        One drive is enough for this card
      </Act>
    )
  return (
    <span>
      If that drive breaks after the card is formatted, these frames are gone.{' '}
      <button
        type="button"
        className="link font-semibold"
        disabled={say.isPending}
        onClick={() => {
          say.mutate()
        }}
      >
        One drive is enough
      </button>{' '}
      <Act
        onClick={() => {
          setAsked(false)
        }}
      >
        Cancel
      </Act>
      {say.error && (
        <span role="alert" className="text-brass">
          {' '}
          {say.error.message}
        </span>
      )}
    </span>
  )
}

function LookAgain({ card }: { card: number }) {
  const look = useWord(() => api.lookAtCard(card))
  if (look.isPending) return <span>Reading the copies…</span>
  return (
    <>
      <Act
        onClick={() => {
          look.mutate()
        }}
      >
        Read them again
      </Act>
      {look.error && (
        <span role="alert" className="text-brass">
          {' '}
          {look.error.message}
        </span>
      )}
    </>
  )
}

function Act({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <button type="button" className="link" onClick={onClick}>
      {children}
    </button>
  )
}

function useWord(ask: () => Promise<Clearance>) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ask,
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['bays'] })
      void queries.invalidateQueries({ queryKey: ['sheet'] })
    },
  })
}
