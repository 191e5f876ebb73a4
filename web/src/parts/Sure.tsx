import { lazy, Suspense, useRef, useState } from 'react'
import { classes } from './classes'

/** Loaded when something is asked. */
const Question = lazy(async () => ({ default: (await import('./Question')).Question }))

/** What cannot be undone asks once: a button, then a sentence on what goes, a way back, and the word for it. */
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
  const button = useRef<HTMLButtonElement>(null)
  return (
    <>
      <button
        ref={button}
        type="button"
        className={classes('link', small ? 'text-[13px]' : '')}
        disabled={isBusy}
        onClick={() => {
          setAsked(true)
        }}
      >
        {ask}
      </button>
      {asked && (
        <Suspense>
          <Question
            title={ask.replace(/…$/, '')}
            says={says}
            act={act}
            onAct={onAct}
            onLeave={() => {
              setAsked(false)
            }}
            onGone={() => {
              button.current?.focus()
            }}
          />
        </Suspense>
      )}
    </>
  )
}
