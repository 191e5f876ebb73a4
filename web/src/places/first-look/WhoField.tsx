import { memo, useState } from 'react'
import { sayWhoJudges, useWho } from '../../parts/who'
import { texts } from './texts'

/** Who judges: a name that is kept with each verdict. */
export const WhoField = memo(function WhoField() {
  const who = useWho()
  const [typed, setTyped] = useState<string | null>(null)
  if (typed === null) {
    return (
      <button
        type="button"
        className="link"
        onClick={() => {
          setTyped(who ?? '')
        }}
      >
        {texts.who.said(who)}
      </button>
    )
  }
  const say = () => {
    sayWhoJudges(typed.trim())
    setTyped(null)
  }
  return (
    <form
      className="inline-flex items-baseline gap-x-1.5"
      onSubmit={(event) => {
        event.preventDefault()
        say()
      }}
    >
      <label htmlFor="who-judges">{texts.who.label}</label>
      <input
        id="who-judges"
        autoFocus
        maxLength={60}
        value={typed}
        className="h-7 w-40 border-b border-desk-ink px-1"
        onChange={(event) => {
          setTyped(event.target.value)
        }}
        onBlur={say}
        onKeyDown={(event) => {
          if (event.key === 'Escape') setTyped(null)
        }}
      />
    </form>
  )
})
