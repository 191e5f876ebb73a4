import { useState } from 'react'
import type { Edit, Sheet } from '../../api/client'
import { plural } from '../../parts/words'
import { Tip } from '../../parts/Tip'
import type { Whole } from './edits'
import { texts } from './texts'

/** +0:58:00, −1:00:00. */
export function offset(seconds: number): string {
  const all = Math.abs(seconds)
  const pad = (value: number) => String(value).padStart(2, '0')
  return `${seconds < 0 ? '−' : '+'}${Math.floor(all / 3600)}:${pad(Math.floor((all % 3600) / 60))}:${pad(all % 60)}`
}

/** Seconds from `+0:58:00`, `-1:30` (hours and minutes) or `+9 h`; null for anything else. */
export function seconds(text: string): number | null {
  const match = /^\s*([+\-−]?)\s*(\d{1,6})(?::([0-5]?\d))?(?::([0-5]?\d))?\s*h?\s*$/.exec(text)
  if (!match) return null
  const amount = Number(match[2]) * 3600 + Number(match[3] ?? 0) * 60 + Number(match[4] ?? 0)
  return match[1] === '-' || match[1] === '−' ? -amount : amount
}

/** Roughly, as people say it: 58 min. */
function roughly(amount: number): string {
  const minutes = Math.round(Math.abs(amount) / 60)
  return minutes < 90 ? `${minutes} min` : `${(minutes / 60).toFixed(minutes % 60 === 0 ? 0 : 1)} h`
}

/** Cameras whose clocks seem wrong, or were set, within the sentence of the sheet's rules. */
export function ClockHints({ sheet, edit }: { sheet: Whole; edit: (edit: Edit) => void }) {
  return sheet.cameras.map((camera) => {
    const name = camera.name || camera.camera
    if (camera.hint !== null)
      return (
        <span key={camera.camera} className="flex flex-wrap items-baseline gap-x-1.5 text-brass">
          · {texts.clocks.seems(name, roughly(camera.hint), camera.hint > 0)}
          <Tip says={texts.clocks.setTip(offset(camera.hint))}>
            <button
              type="button"
              className="font-semibold text-brass underline underline-offset-3"
              onClick={() => {
                edit({ do: 'clock', camera: camera.camera, seconds: camera.seconds + (camera.hint ?? 0) })
              }}
            >
              {texts.clocks.set}
            </button>
          </Tip>
        </span>
      )
    return camera.seconds === 0 ? null : (
      <span key={camera.camera}>
        · {name} {offset(camera.seconds)}
      </span>
    )
  })
}

/** What is added to each camera's clock. Order, division and names follow; the files keep the camera's own time. */
export function Clocks({ sheet, edit }: { sheet: Whole; edit: (edit: Edit) => void }) {
  return (
    <section
      aria-label={texts.clocks.title}
      className="mb-2 flex flex-wrap items-baseline gap-x-6 gap-y-1 text-[13px] text-soft"
    >
      <span>{texts.clocks.added}</span>
      {sheet.cameras.map((camera) => (
        <span key={camera.camera} className="flex flex-wrap items-baseline gap-x-2">
          <strong className="font-semibold text-ink" title={camera.camera}>
            {camera.name || camera.camera}
          </strong>
          <span>{plural(camera.frames, 'frame')}</span>
          <Correction key={camera.seconds} camera={camera} edit={edit} />
        </span>
      ))}
      {sheet.cameras.length > 1 && <span>{texts.clocks.each}</span>}
    </section>
  )
}

function Correction({ camera, edit }: { camera: Sheet['cameras'][number]; edit: (edit: Edit) => void }) {
  const [typed, setTyped] = useState(camera.seconds === 0 ? '' : offset(camera.seconds))
  const meant = typed.trim() === '' ? 0 : seconds(typed)
  return (
    <input
      aria-label={texts.clocks.correction(camera.name || camera.camera)}
      aria-invalid={meant === null}
      placeholder="+0:00:00"
      value={typed}
      style={{ width: `max(78px, ${typed.length + 1}ch)` }}
      className={[
        'border-b bg-transparent text-center font-semibold placeholder:font-normal placeholder:text-soft',
        'focus:outline-none',
        meant === null ? 'border-brass text-brass' : 'border-dotted border-rule-strong text-ink focus:border-velvet',
      ].join(' ')}
      onChange={(event) => {
        setTyped(event.target.value)
      }}
      onBlur={() => {
        if (meant !== null && meant !== camera.seconds) edit({ do: 'clock', camera: camera.camera, seconds: meant })
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur()
      }}
    />
  )
}
