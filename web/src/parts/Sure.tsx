import { useState } from 'react'
import { classes } from './classes'

/** What cannot be undone asks once: a button, then a sentence on what goes, the word for it, and a way back. */
export function Sure({
  ask,
  says,
  act,
  isBusy,
  onAct,
  small = false,
}: {
  ask: string
  says: string
  act: string
  isBusy: boolean
  onAct: () => void
  small?: boolean
}) {
  const [asked, setAsked] = useState(false)
  const [wasAsked, setWasAsked] = useState(false)
  const size = small ? 'text-[13px]' : ''
  if (!asked)
    return (
      <button
        type="button"
        className={classes('link', size)}
        autoFocus={wasAsked}
        onClick={() => {
          setAsked(true)
          setWasAsked(true)
        }}
      >
        {ask}
      </button>
    )
  return (
    <span role="group" aria-label={says} className={size}>
      {says}{' '}
      <button
        type="button"
        className="link font-semibold"
        disabled={isBusy}
        onClick={() => {
          setAsked(false)
          onAct()
        }}
      >
        {act}
      </button>{' '}
      <button
        type="button"
        className="link"
        autoFocus
        onClick={() => {
          setAsked(false)
        }}
      >
        Cancel
      </button>
    </span>
  )
}
