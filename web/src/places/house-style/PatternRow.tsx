import { DndContext, MouseSensor, TouchSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import { rectSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable'
import { DropdownMenu, Popover } from 'radix-ui'
import { useRef, useState, type KeyboardEvent } from 'react'
import type { Piece } from '../../api/client'
import { act } from '../../keys/keys'
import { classes } from '../../parts/classes'
import { choicesOf } from '../../parts/choices'
import { Pick } from '../../parts/Pick'
import { detail, fresh, moved, OF_FRAME, type Kind } from './pieces'
import { texts } from './texts'

interface Props {
  label: string
  pieces: Piece[]
  /** What the row builds: not every piece fits everywhere. */
  use: 'folder' | 'file' | 'text'
  onChange: (pieces: Piece[]) => void
}

const says = texts.pieces

/** Pieces that number names; a text cannot say them. */
const NUMBERS: Kind[] = ['counter', 'sequence']

/** A chip is what stands at its place. */
const idAt = (index: number) => `piece ${index}`

/** So far a pointer moves, in pixels, and so long a finger rests, in milliseconds, before a chip is dragged. */
const [FAR, LONG] = [4, 180]

/**
 * A pattern as a row of chips: dragged into order by mouse or finger, or moved with Ctrl and the arrows; Enter opens a
 * chip, Delete takes it away.
 */
export function PatternRow({ label, pieces, use, onChange }: Props) {
  const row = useRef<HTMLDivElement>(null)
  const [said, setSaid] = useState('')
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: FAR } }),
    useSensor(TouchSensor, { activationConstraint: { delay: LONG, tolerance: FAR } }),
  )
  const ids = pieces.map((_, index) => idAt(index))
  const nameOf = (index: number) => {
    const piece = pieces[index]
    return piece ? nameOfPiece(piece) : ''
  }
  const move = (from: number, to: number) => {
    if (to < 0 || to >= pieces.length || to === from) return
    setSaid(says.moved(nameOf(from), to + 1, pieces.length))
    onChange(moved(pieces, from, to))
  }
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over) move(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)))
  }
  const spoken = {
    onDragStart: () => says.pickedUp,
    onDragOver: ({ over }: { over: { id: string | number } | null }) =>
      over ? says.over(ids.indexOf(String(over.id)) + 1, pieces.length) : undefined,
    onDragEnd: () => says.dropped,
    onDragCancel: () => says.stayed,
  }
  const focus = (index: number) => {
    requestAnimationFrame(() => row.current?.querySelectorAll<HTMLElement>('[data-chip]')[index]?.focus())
  }
  const press = (event: KeyboardEvent, index: number) => {
    const to = (by: number) => () => {
      focus(index + by)
    }
    const moveBy = (by: number) => () => {
      move(index, index + by)
      focus(index + by)
    }
    const remove = () => {
      onChange(pieces.filter((_, i) => i !== index))
      focus(Math.max(0, index - 1))
    }
    act('pieces', event, { previous: to(-1), next: to(1), back: moveBy(-1), on: moveBy(1), remove })
  }
  return (
    <div ref={row} role="group" aria-label={label} className="flex flex-wrap items-center gap-1.5">
      <DndContext
        sensors={sensors}
        onDragEnd={dropped}
        accessibility={{
          announcements: spoken,
          screenReaderInstructions: { draggable: says.keys },
        }}
      >
        <SortableContext items={ids} strategy={rectSortingStrategy}>
          {pieces.map((piece, index) => (
            <Chip
              key={`${index} ${piece.piece}`}
              id={idAt(index)}
              piece={piece}
              onChange={(changed) => {
                onChange(pieces.map((each, i) => (i === index ? changed : each)))
              }}
              onRemove={() => {
                onChange(pieces.filter((_, i) => i !== index))
              }}
              onPress={(event) => {
                press(event, index)
              }}
            />
          ))}
        </SortableContext>
      </DndContext>
      <span role="status" className="sr-only">
        {said}
      </span>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="link px-1 text-[13px]" aria-label={says.addTo(label)}>
          {says.add}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={4}
            className={classes(
              'z-40 max-h-(--radix-dropdown-menu-content-available-height)',
              'min-w-[220px] overflow-y-auto menu p-1.5',
            )}
          >
            {(Object.keys(says.kinds) as Kind[])
              .filter((kind) =>
                use === 'folder' ? !OF_FRAME.includes(kind) : use === 'file' || !NUMBERS.includes(kind),
              )
              .map((kind) => (
                <DropdownMenu.Item
                  key={kind}
                  className="menu-line"
                  onSelect={() => {
                    onChange([
                      ...pieces,
                      use === 'text' && kind === 'text'
                        ? { piece: 'text', text: pieces.length === 0 ? '…' : ' ' }
                        : fresh(kind),
                    ])
                  }}
                >
                  {says.kinds[kind]}
                </DropdownMenu.Item>
              ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  )
}

const nameOfPiece = (piece: Piece) =>
  piece.piece === 'text' ? says.freeText(piece.text ?? '') : `${says.kinds[piece.piece]} ${detail(piece)}`

interface ChipProps {
  id: string
  piece: Piece
  onChange: (piece: Piece) => void
  onRemove: () => void
  onPress: (event: KeyboardEvent) => void
}

function Chip({ id, piece, onChange, onRemove, onPress }: ChipProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id })
  const isText = piece.piece === 'text'
  const words = detail(piece)
  return (
    <Popover.Root>
      <Popover.Trigger
        ref={setNodeRef}
        data-chip
        {...listeners}
        onKeyDown={onPress}
        aria-label={nameOfPiece(piece)}
        aria-describedby={attributes['aria-describedby']}
        style={{
          transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
          transition,
        }}
        className={classes(
          isDragging && 'relative z-10 cursor-grabbing shadow-(--shadow)',
          'min-h-8 cursor-grab rounded-[3px] border border-rule-strong px-2.5 text-[13px]',
          isText ? 'border-dashed bg-transparent font-semibold' : 'bg-leaf',
          'data-[state=open]:border-velvet',
        )}
      >
        {isText
          ? (piece.text ?? '').replace(/^ +| +$/g, (blanks) => '␣'.repeat(blanks.length)) || '…'
          : says.kinds[piece.piece]}
        {!isText && words !== '' && <span className="ml-1.5 text-soft">{words}</span>}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          className="z-40 w-[300px] border border-rule-strong bg-leaf p-4 shadow-(--shadow)"
        >
          <div className="mb-2 font-semibold">{says.kinds[piece.piece]}</div>
          <Options piece={piece} onChange={onChange} />
          <div className="mt-3 flex justify-between">
            <button type="button" className="link" onClick={onRemove}>
              {says.remove}
            </button>
            <Popover.Close className="button">{says.done}</Popover.Close>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Options({ piece, onChange }: { piece: Piece; onChange: (piece: Piece) => void }) {
  const set = (part: Partial<Piece>) => {
    onChange({ ...piece, ...part })
  }
  switch (piece.piece) {
    case 'text':
      return (
        <Field
          label={says.text}
          value={piece.text ?? ''}
          onChange={(text) => {
            set({ text })
          }}
        />
      )
    case 'shoot_day':
    case 'shot_time':
    case 'first_time':
      return (
        <>
          <Field
            label={says.pattern}
            value={piece.format ?? ''}
            onChange={(format) => {
              set({ format })
            }}
          />
          <p className="mt-1 text-[12.5px] text-soft">{says.patternHelp}</p>
        </>
      )
    case 'counter':
      return (
        <div className="grid gap-2">
          <NumberField
            label={says.digits}
            value={piece.width ?? 4}
            least={1}
            most={9}
            onChange={(width) => {
              set({ width })
            }}
          />
          <NumberField
            label={says.startsAt}
            value={piece.start ?? 1}
            least={0}
            most={999_999_999}
            onChange={(start) => {
              set({ start })
            }}
          />
          <NumberField
            label={says.step}
            value={piece.step ?? 1}
            least={1}
            most={1000}
            onChange={(step) => {
              set({ step })
            }}
          />
          <div className="flex justify-between">
            <span className="text-soft">{says.counts}</span>
            <Pick
              label={says.counts}
              value={piece.scope ?? 'shoot'}
              choices={choicesOf(says.scopes)}
              onPick={(scope) => {
                set({ scope })
              }}
            />
          </div>
        </div>
      )
    case 'original_number':
    case 'first_number':
    case 'last_number':
    case 'sequence':
      return (
        <NumberField
          label={says.digits}
          value={piece.width ?? 4}
          least={1}
          most={9}
          onChange={(width) => {
            set({ width })
          }}
        />
      )
    default:
      return (
        <div className="grid gap-2">
          <div className="flex justify-between">
            <span className="text-soft">{says.letters}</span>
            <Pick
              label={says.letters}
              value={piece.case ?? 'kept'}
              choices={choicesOf(says.cases)}
              onPick={(value) => {
                set({ case: value })
              }}
            />
          </div>
          <div className="flex justify-between">
            <span className="text-soft">{says.blanks}</span>
            <Pick
              label={says.blanks}
              value={piece.blanks ?? 'kept'}
              choices={choicesOf(says.blanksAs)}
              onPick={(blanks) => {
                set({ blanks })
              }}
            />
          </div>
          <NumberField
            label={piece.piece === 'body_serial' ? says.lastLetters : says.lettersAtMost}
            value={piece.length ?? null}
            least={1}
            most={200}
            onChange={(length) => {
              set({ length })
            }}
            onEmpty={() => {
              set({ length: null })
            }}
          />
        </div>
      )
  }
}

export function Field({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <label className="flex items-baseline justify-between gap-3">
      <span className="text-soft">{label}</span>
      <input
        value={value}
        spellCheck={false}
        className="min-w-0 flex-1 typed text-right font-semibold"
        onChange={(event) => {
          onChange(event.target.value)
        }}
      />
    </label>
  )
}

/** Several texts, one to a line. */
export function Lines({
  label,
  value,
  onChange,
}: {
  label: string
  value: string[]
  onChange: (value: string[]) => void
}) {
  const [typed, setTyped] = useState(value.join('\n'))
  return (
    <label className="flex items-start justify-between gap-3">
      <span className="text-soft">{label}</span>
      <textarea
        rows={Math.max(1, typed.split('\n').length)}
        value={typed}
        spellCheck={false}
        className="min-w-0 flex-1 resize-none typed text-right font-semibold"
        onChange={(event) => {
          setTyped(event.target.value)
          onChange(
            event.target.value
              .split('\n')
              .map((line) => line.trim())
              .filter((line) => line !== ''),
          )
        }}
      />
    </label>
  )
}

/** A whole number within limits, or nothing where that is something; what is neither is told and not kept. */
export function NumberField({
  label,
  value,
  least,
  most,
  onChange,
  onEmpty,
}: {
  label: string
  value: number | null
  least: number
  most: number
  onChange: (value: number) => void
  onEmpty?: () => void
}) {
  const [typed, setTyped] = useState(value === null ? '' : String(value))
  const isKept = (text: string) =>
    text.trim() === ''
      ? onEmpty !== undefined
      : Number.isInteger(Number(text)) && Number(text) >= least && Number(text) <= most
  return (
    <div>
      <Field
        label={label}
        value={typed}
        onChange={(text) => {
          setTyped(text)
          if (!isKept(text)) return
          if (text.trim() === '') onEmpty?.()
          else onChange(Number(text))
        }}
      />
      {!isKept(typed) && (
        <p role="alert" className="text-right text-[13px] text-brass">
          {says.wholeNumber(least, most, typed.trim())}
        </p>
      )}
    </div>
  )
}
