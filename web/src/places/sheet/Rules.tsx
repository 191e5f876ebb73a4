import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Divide, type Edit, type Sheet, type SheetChange } from '../../api/client'
import { classes } from '../../parts/classes'
import { Pick } from '../../parts/Pick'

const BY = [
  { value: 'day', label: 'by day' },
  { value: 'pause', label: 'by pauses' },
  { value: 'camera', label: 'by camera' },
  { value: 'nothing', label: 'not at all' },
] as const
const KINDS = [
  { value: 'both', label: 'raw and JPEG' },
  { value: 'raw', label: 'raw only' },
  { value: 'jpeg', label: 'JPEG only' },
] as const
const PAUSES = ['never', '30', '60', '120', '180', '240', '360', '480', '720'] as const

function pause(minutes: string): string {
  return minutes === 'never' ? 'none' : Number(minutes) < 60 ? `${minutes} min` : `${Number(minutes) / 60} h`
}

/** What holds for the whole sheet, in one line of prose; and what can be undone. */
export function Rules({
  sheet,
  change,
  edit,
}: {
  sheet: Sheet
  change: (change: SheetChange) => void
  edit: (edit: Edit) => void
}) {
  const styles = useQuery({ queryKey: ['styles'], queryFn: api.styles })
  const { divide, history } = sheet
  const names = [...new Set([sheet.style, ...(styles.data?.styles.map((style) => style.name) ?? [])])]
  const redivide = (part: Partial<Divide>) => {
    change({ divide: { ...divide, ...part } })
  }
  const pauses = [...new Set([...PAUSES, divide.break_after === null ? 'never' : String(divide.break_after)])]
  return (
    <div className="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1 text-[13px] text-soft">
      <span className="flex items-baseline gap-1.5">
        Divided{' '}
        <Pick
          label="Divided"
          value={divide.by}
          choices={BY}
          onPick={(by) => {
            redivide({ by, break_after: by === 'pause' ? (divide.break_after ?? 240) : divide.break_after })
          }}
        />
      </span>
      {(divide.by === 'day' || divide.by === 'pause') && (
        <span className="flex items-baseline gap-1.5">
          {divide.by === 'pause' ? 'of' : 'and by pauses of'}
          <Pick
            label="Pause"
            value={divide.break_after === null ? 'never' : String(divide.break_after)}
            choices={pauses
              .filter((minutes) => divide.by === 'day' || minutes !== 'never')
              .map((minutes) => ({ value: minutes, label: pause(minutes) }))}
            onPick={(minutes) => {
              redivide({ break_after: minutes === 'never' ? null : Number(minutes) })
            }}
          />
        </span>
      )}
      {divide.by !== 'nothing' && (
        <DayStarts
          key={divide.day_starts}
          value={divide.day_starts}
          onChange={(day_starts) => {
            redivide({ day_starts })
          }}
        />
      )}
      <span className="flex items-baseline gap-1.5">
        Taking{' '}
        <Pick
          label="Taking"
          value={sheet.kinds}
          choices={KINDS}
          onPick={(kinds) => {
            change({ kinds })
          }}
        />
      </span>
      <span className="flex items-baseline gap-1.5">
        movies and sound{' '}
        <Pick
          label="Movies and sound"
          value={sheet.companions ? 'yes' : 'no'}
          choices={[
            { value: 'yes', label: 'copied' },
            { value: 'no', label: 'left on the card' },
          ]}
          onPick={(value) => {
            change({ companions: value === 'yes' })
          }}
        />
      </span>
      <span className="flex items-baseline gap-1.5">
        <Link className="link" to="/house-style">
          House style
        </Link>
        <Pick
          label="House style"
          value={sheet.style}
          choices={names.map((name) => ({ value: name, label: name }))}
          onPick={(style) => {
            change({ style })
          }}
        />
      </span>
      <span className="ml-auto flex gap-4">
        {history.undo && (
          <button
            type="button"
            className="link"
            title="Ctrl Z"
            onClick={() => {
              edit({ do: 'undo' })
            }}
          >
            Undo: {history.undo}
          </button>
        )}
        {history.redo && (
          <button
            type="button"
            className="link"
            title="Ctrl Shift Z"
            onClick={() => {
              edit({ do: 'redo' })
            }}
          >
            Do again: {history.redo}
          </button>
        )}
      </span>
    </div>
  )
}

/** The hour at which a day begins; sent when it is a time and the field is left. */
function DayStarts({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const [typed, setTyped] = useState(value)
  const isTime = /^([01]?\d|2[0-3]):[0-5]\d$/.test(typed)
  return (
    <label className="flex items-baseline gap-1.5">
      a day starts at
      <input
        aria-label="A day starts at"
        aria-invalid={!isTime}
        value={typed}
        size={5}
        className={classes(
          'w-[52px] border-b bg-transparent text-center font-semibold focus:outline-none',
          isTime ? 'border-dotted border-rule-strong text-ink focus:border-velvet' : 'border-brass text-brass',
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
      {!isTime && <span className="text-brass">a time, as in 04:00</span>}
    </label>
  )
}
