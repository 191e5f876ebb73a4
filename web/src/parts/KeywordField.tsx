import { useQuery } from '@tanstack/react-query'
import { useCombobox } from 'downshift'
import { useEffect, useState, type KeyboardEvent } from 'react'
import { api } from '../api/client'
import { classes } from './classes'
import { plural } from './words'
import { Tip } from './Tip'

export interface Chip {
  /** With those above it, parted by ›. */
  path: string
  /** On how many of the frames it is, where it is not on all. */
  frames?: number | undefined
}

interface Props {
  label: string
  chips: Chip[]
  onAdd: (paths: string[]) => void
  onRemove: (path: string) => void
  /** What is said where there is none yet. */
  empty?: string
  /** Whether the choices open above the line. */
  above?: boolean
}

const PAUSE = 90
/** So many chips are shown unasked, the first and the latest: the rows beneath an entry stay in sight. */
const [FIRST, LATEST] = [20, 4]
const PARTED = /[,，、;]/

/**
 * Keywords as chips, typed with commas or Enter; what may be meant is offered while typing, and what was used last
 * before. What is half typed when another place is clicked stays half typed: it is given to no frame.
 */
export function KeywordField({ label, chips, onAdd, onRemove, empty = 'keywords', above = false }: Props) {
  const [typed, setTyped] = useState('')
  const [asked, setAsked] = useState('')
  const [open, setOpen] = useState(false)
  // by its letters: what was chosen stays so when the choices change under the hand
  const [chosen, setChosen] = useState<string | null>(null)
  const [all, setAll] = useState(false)
  const [input, setInput] = useState<HTMLInputElement | null>(null)
  useEffect(() => {
    const timer = window.setTimeout(() => {
      setAsked(typed.trim())
    }, PAUSE)
    return () => {
      window.clearTimeout(timer)
    }
  }, [typed])
  const meant = useQuery({
    queryKey: ['keywords', 'meant', asked],
    queryFn: () => api.keywordsMeant(asked),
    enabled: open,
    staleTime: 5_000,
    placeholderData: (before) => before,
  })
  const has = new Set(chips.filter((chip) => chip.frames === undefined).map((chip) => chip.path.toLocaleLowerCase()))
  const choices = (open ? (meant.data ?? []) : []).filter((choice) => !has.has(choice.path.toLocaleLowerCase()))
  const isLong = chips.length > FIRST + LATEST
  const hidden = isLong && !all ? chips.length - FIRST - LATEST : 0
  const at = choices.findIndex((choice) => choice.path === chosen)
  const add = (text: string) => {
    const paths = text
      .split(PARTED)
      .map((path) => path.trim())
      .filter((path) => path !== '' && !has.has(path.toLocaleLowerCase()))
    if (paths.length > 0) onAdd(paths)
    setTyped('')
    setChosen(null)
  }
  const type = (text: string) => {
    setChosen(null)
    if (PARTED.test(text)) {
      const rest = text.split(PARTED).at(-1) ?? ''
      add(text.slice(0, text.length - rest.length))
      setTyped(rest.trimStart())
    } else {
      setTyped(text)
    }
  }
  const { getInputProps, getMenuProps, getItemProps } = useCombobox({
    items: choices,
    itemToString: (choice) => choice?.path ?? '',
    isOpen: choices.length > 0,
    highlightedIndex: at,
    inputValue: typed,
    selectedItem: null,
    stateReducer: (state, { type: what, changes, props }) => {
      const { InputKeyDownArrowDown, InputKeyDownArrowUp, InputBlur } = useCombobox.stateChangeTypes
      // past either end nothing is chosen
      if (what === InputKeyDownArrowDown && state.highlightedIndex === props.items.length - 1)
        return { ...changes, highlightedIndex: -1 }
      if (what === InputKeyDownArrowUp && state.highlightedIndex === 0) return { ...changes, highlightedIndex: -1 }
      return what === InputBlur ? state : changes
    },
    onHighlightedIndexChange: ({ highlightedIndex }) => {
      setChosen(choices[highlightedIndex]?.path ?? null)
    },
    onSelectedItemChange: ({ selectedItem }) => {
      if (selectedItem) add(selectedItem.path)
    },
  })
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.nativeEvent.isComposing) return
    if ((event.key === 'Enter' && at < 0) || (event.key === 'Tab' && at >= 0)) {
      event.preventDefault()
      add(choices[at]?.path ?? typed)
    } else if (event.key === 'Backspace' && typed === '' && chips.length > 0) {
      onRemove(chips.at(-1)?.path ?? '')
    } else if (event.key === 'Escape') {
      event.stopPropagation()
      setTyped('')
      event.currentTarget.blur()
    }
  }
  const chipOf = (chip: Chip) => (
    <span
      key={chip.path}
      className={classes(
        'inline-flex items-baseline border border-rule-strong px-1.5 text-[13px] leading-[22px]',
        chip.frames === undefined ? 'bg-leaf' : 'border-dashed text-soft',
      )}
    >
      <span className="wrap-anywhere">
        {chip.path}
        {chip.frames !== undefined && ` on ${chip.frames}`}
      </span>
      {chip.frames !== undefined && (
        <Tip says="Give it to all">
          <button
            type="button"
            className="ml-1 min-h-6 min-w-6 text-velvet"
            aria-label={`Give ${chip.path} to all`}
            onClick={() => {
              onAdd([chip.path])
            }}
          >
            +
          </button>
        </Tip>
      )}
      <button
        type="button"
        className="-mr-1.5 min-h-6 min-w-6 text-soft hover:text-ink"
        aria-label={`Remove ${chip.path}`}
        onClick={() => {
          onRemove(chip.path)
        }}
      >
        ×
      </button>
    </span>
  )
  return (
    <div className="relative min-w-0">
      <div
        className="flex flex-wrap items-baseline gap-x-1.5 gap-y-1"
        onClick={() => {
          input?.focus()
        }}
      >
        {chips.slice(0, FIRST).map(chipOf)}
        {isLong && (
          <button
            type="button"
            className="link min-h-6 text-[13px] whitespace-nowrap"
            aria-expanded={all}
            onClick={() => {
              setAll(!all)
            }}
          >
            {all ? 'fewer' : `and ${hidden.toLocaleString('en')} more`}
          </button>
        )}
        {chips.slice(FIRST + hidden).map(chipOf)}
        <input
          {...getInputProps({
            ref: setInput,
            'aria-label': label,
            'aria-labelledby': undefined,
            onFocus: () => {
              setOpen(true)
            },
            onBlur: () => {
              setOpen(false)
            },
            // at once, or the cursor would jump to the end of what is typed
            onChange: (event) => {
              type(event.currentTarget.value)
            },
            onKeyDown: press,
          })}
          spellCheck={false}
          placeholder={chips.length === 0 ? empty : 'another keyword'}
          className={classes(
            'typed h-6 flex-1 text-[13px]',
            chips.length === 0 ? 'min-w-[120px]' : 'max-w-[220px] min-w-[108px]',
          )}
        />
        {typed.trim() !== '' && (
          <button
            type="button"
            className="link min-h-6 text-[13px] whitespace-nowrap"
            onMouseDown={(event) => {
              event.preventDefault()
            }}
            onClick={() => {
              add(typed)
            }}
          >
            Add “{typed.trim()}”
          </button>
        )}
      </div>
      <ul
        {...getMenuProps({ 'aria-label': asked === '' ? 'Used lately' : 'May be meant', 'aria-labelledby': undefined })}
        hidden={choices.length === 0}
        className={classes(
          'menu absolute left-0 z-40 max-h-[320px] min-w-[260px] overflow-y-auto p-1',
          above ? 'bottom-full mb-1' : 'top-full mt-1',
        )}
      >
        {asked === '' && (
          <li role="presentation" className="px-2 py-1 text-[12.5px] text-soft">
            Used lately
          </li>
        )}
        {choices.map((choice, i) => (
          <li
            key={choice.path}
            {...getItemProps({ item: choice, index: i })}
            className={`cursor-pointer px-2 py-1 text-[14px] ${i === at ? 'bg-velvet-wash' : ''}`}
          >
            {choice.path}
            {choice.by !== null && <span className="text-soft"> · also {choice.by}</span>}
            {choice.private && <span className="text-soft"> · not written to files</span>}
          </li>
        ))}
      </ul>
      <span role="status" className="sr-only">
        {open && choices.length > 0 ? `${plural(choices.length, 'keyword')} offered` : ''}
      </span>
    </div>
  )
}
