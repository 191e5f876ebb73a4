import { useQuery } from '@tanstack/react-query'
import { memo, useState } from 'react'
import { Link } from 'react-router'
import { api, type Divide, type Edit, type SheetChange } from '../../api/client'
import { classes } from '../../parts/classes'
import { choicesOf } from '../../parts/choices'
import { Pick } from '../../parts/Pick'
import { ClockHints, Clocks } from './Clocks'
import type { Whole } from './edits'
import { texts } from './texts'

const says = texts.rules
const PAUSES = ['never', '30', '60', '120', '180', '240', '360', '480', '720'] as const

/** What holds for the whole sheet, in one sentence whose words change it; clocks that disagree are said there. */
export const Rules = memo(function Rules({
  sheet,
  change,
  edit,
}: {
  sheet: Whole
  change: (change: SheetChange) => void
  edit: (edit: Edit) => void
}) {
  const styles = useQuery({ queryKey: ['styles'], queryFn: api.styles })
  const [clocks, setClocks] = useState(false)
  const { divide } = sheet
  const names = [...new Set([sheet.style, ...(styles.data?.styles.map((style) => style.name) ?? [])])]
  const redivide = (part: Partial<Divide>) => {
    change({ divide: { ...divide, ...part } })
  }
  const pauses = [...new Set([...PAUSES, divide.break_after === null ? 'never' : String(divide.break_after)])]
  return (
    <>
      <p className="mb-2 flex flex-wrap items-baseline gap-x-1.5 text-[13px] text-soft">
        {says.split}
        <Pick
          label={says.split}
          value={divide.by}
          choices={choicesOf(says.by)}
          onPick={(by) => {
            redivide({ by, break_after: by === 'pause' ? (divide.break_after ?? 240) : divide.break_after })
          }}
        />
        {divide.by !== 'nothing' && (
          <DayStarts
            key={divide.day_starts}
            value={divide.day_starts}
            onChange={(day_starts) => {
              redivide({ day_starts })
            }}
          />
        )}
        {(divide.by === 'day' || divide.by === 'pause') && (
          <>
            <Comma /> {says.gaps}
            <Pick
              label={says.gapsLabel}
              value={divide.break_after === null ? 'never' : String(divide.break_after)}
              choices={pauses
                .filter((minutes) => divide.by === 'day' || minutes !== 'never')
                .map((minutes) => ({ value: minutes, label: says.gapsOf(minutes) }))}
              onPick={(minutes) => {
                redivide({ break_after: minutes === 'never' ? null : Number(minutes) })
              }}
            />
          </>
        )}
        <Dot /> {says.copy}
        <Pick
          label={says.copyLabel}
          value={sheet.kinds}
          choices={choicesOf(says.kinds)}
          onPick={(kinds) => {
            change({ kinds })
          }}
        />
        <Comma /> {says.companions}
        <Pick
          label={says.companionsLabel}
          value={sheet.companions ? 'yes' : 'no'}
          choices={[
            { value: 'yes', label: says.too },
            { value: 'no', label: says.not },
          ]}
          onPick={(value) => {
            change({ companions: value === 'yes' })
          }}
        />
        <Dot />{' '}
        <Link className="hover:underline" to="/house-style">
          {says.style}
        </Link>
        <Pick
          label={says.styleLabel}
          value={sheet.style}
          choices={names.map((name) => ({ value: name, label: name }))}
          onPick={(style) => {
            change({ style })
          }}
        />
        <ClockHints sheet={sheet} edit={edit} />
        {sheet.cameras.length > 0 && (
          <>
            <Dot />{' '}
            <button
              type="button"
              className="link"
              aria-expanded={clocks}
              onClick={() => {
                setClocks(!clocks)
              }}
            >
              {says.clocks(sheet.cameras.length)}
            </button>
          </>
        )}
      </p>
      {clocks && <Clocks sheet={sheet} edit={edit} />}
    </>
  )
})

/** Behind a choice, whose sign stands a little apart. */
const Comma = () => <span className="-ml-1.5">,</span>

const Dot = () => <span aria-hidden="true">·</span>

/** The hour at which a day begins; sent when it is a time and the field is left. */
function DayStarts({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const [typed, setTyped] = useState(value)
  const isTime = /^([01]?\d|2[0-3]):[0-5]\d$/.test(typed)
  return (
    <label className="-ml-1.5 flex items-baseline gap-1.5">
      {says.dayStarts}
      <input
        aria-label={says.dayStartsLabel}
        aria-invalid={!isTime}
        value={typed}
        size={5}
        className={classes(
          'w-[46px] border-b bg-transparent text-center font-semibold focus:outline-none',
          isTime ? 'border-dotted border-rule-strong text-velvet focus:border-velvet' : 'border-brass text-brass',
        )}
        onChange={(event) => {
          setTyped(event.target.value)
        }}
        onBlur={() => {
          if (isTime && typed !== value) onChange(typed)
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
        }}
      />
      {!isTime && <span className="text-brass">{says.noTime}</span>}
    </label>
  )
}
