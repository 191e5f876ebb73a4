import type { KeyboardEvent } from 'react'
import type { Entry } from '../../api/client'
import { act } from '../../keys/keys'
import { classes } from '../../parts/classes'
import { Trouble } from '../../parts/Trouble'
import { useTyped } from './useTyped'
import { texts } from './texts'

/** An entry's name, or its kind, client or trip where names say those, typed straight into the row. */
export function EntryName({
  sheet,
  entry,
  field = 'name',
  large = true,
}: {
  sheet: number
  entry: Entry
  field?: 'name' | 'kind' | 'client' | 'trip'
  large?: boolean
}) {
  const typed = useTyped(sheet, entry, field)
  const [label, placeholder] = texts.entry[field]
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    const field = event.currentTarget
    const next = () => {
      typed.flush()
      const fields = [
        ...document.querySelectorAll<HTMLInputElement>(`input[data-entry-name=${field.dataset.entryName}]`),
      ]
      const following = fields[fields.indexOf(field) + 1]
      if (following) following.focus()
      else field.blur()
    }
    const leave = () => {
      field.blur()
    }
    act('name', event, { next, leave }, true)
  }
  return (
    <>
      <input
        data-entry-name={field}
        aria-label={texts.entry.fieldOf(label, entry.number)}
        placeholder={placeholder}
        autoComplete="off"
        spellCheck={false}
        value={typed.value}
        onChange={(event) => {
          typed.type(event.target.value)
        }}
        onBlur={typed.flush}
        onKeyDown={press}
        className={classes(
          'w-full typed text-ellipsis',
          field !== 'name' ? 'text-[14px]' : `serif ${large ? 'text-[21px]' : 'border-transparent! text-[17px]'}`,
        )}
      />
      {typed.error && <Trouble>{typed.error.message}</Trouble>}
    </>
  )
}
