import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type MetadataField, type SelectionChange, type SelectionSays as Says } from '../../api/client'
import { selected } from '../../model/selected'
import { classes } from '../../parts/classes'
import { FieldMenu } from '../../parts/FieldMenu'
import { FIELDS, OF_FRAME } from '../../parts/fields'
import { KeywordField } from '../../parts/KeywordField'
import { Pick } from '../../parts/Pick'
import { Refusal, Trouble } from '../../parts/Trouble'
import { ShowMore } from '../../parts/ShowMore'
import { SelectionRaws } from './SelectionRaws'
import { texts as pages } from './texts'

const RATINGS = ['0', '1', '2', '3', '4', '5'] as const
const MIXED = 'mixed'
const words = pages.selection

interface Change {
  meant: number[]
  part: SelectionChange
}

interface Props {
  shoot: number
  /** The frames that are selected. */
  frames: number[]
  /** All that there are. */
  all: number[]
  onAll: () => void
  onClear: () => void
  undo: string | null
  onUndo: () => void
}

/** What the selected frames say, at the foot of a shoot: changed here, it is changed in their files. */
export function SelectionSays({ shoot, frames, all, onAll, onClear, undo, onUndo }: Props) {
  const queries = useQueryClient()
  const [open, setOpen] = useState(false)
  const says = useQuery({
    queryKey: saysOf(shoot, frames),
    queryFn: () => api.selectionSays(shoot, selected(frames, all)),
    placeholderData: (before) => before,
    enabled: frames.length > 0,
  })
  const save = useMutation({
    meta: { inPlace: true },
    // with its frames: what waits for its turn must not meet another selection
    mutationFn: ({ meant, part }: Change) => api.changeSelection(shoot, { ...selected(meant, all), ...part }),
    scope: { id: `says of shoot ${shoot}` },
    onSuccess: (answer, { meant }) => {
      queries.setQueryData(saysOf(shoot, meant), answer)
      void queries.invalidateQueries({ queryKey: ['shoots', shoot], exact: true })
      void queries.invalidateQueries({ queryKey: ['keywords'] })
    },
  })
  if (frames.length === 0) {
    return (
      <section
        aria-label={words.label}
        className={classes(
          'page sticky bottom-0 z-20 flex flex-wrap items-baseline gap-x-5',
          'border-t border-rule-strong bg-velvet-wash py-2',
        )}
      >
        <span className="text-soft">{words.none}</span>
        <button type="button" className="link" onClick={onAll}>
          {words.all(all.length)}
        </button>
        {undo !== null && (
          <button type="button" className="link" onClick={onUndo}>
            {words.undo(undo)}
          </button>
        )}
      </section>
    )
  }
  if (!says.data) return says.error ? <Trouble>{says.error.message}</Trouble> : null
  const { keywords, rating, texts, refused } = says.data
  const count = says.data.frames
  const change = (part: SelectionChange) => {
    save.mutate({ meant: frames, part })
  }
  return (
    <section
      aria-label={words.label}
      className="page sticky bottom-0 z-20 border-t border-rule-strong bg-velvet-wash py-2"
    >
      <Refusal of={save.error} />
      {refused.length > 0 && (
        <Trouble>
          {refused[0]}
          {refused.length > 1 && words.same(refused.length - 1)}
        </Trouble>
      )}
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1.5">
        <strong className="font-semibold whitespace-nowrap">{words.count(count)}</strong>
        <div className="min-w-[240px] flex-1">
          <KeywordField
            key={hashOf(frames)}
            above
            label={words.keywords}
            chips={keywords.map((keyword) => ({
              path: keyword.path.join(' › '),
              frames: keyword.frames < count ? keyword.frames : undefined,
            }))}
            onAdd={(paths) => {
              change({ add: paths })
            }}
            onRemove={(path) => {
              const found = keywords.find((keyword) => keyword.path.join(' › ') === path)
              if (found) change({ remove: [found.id] })
            }}
          />
        </div>
        <span className="flex items-baseline gap-1.5">
          <span className="text-soft">{words.rating}</span>
          <Pick
            label={words.ratingLabel}
            side="top"
            value={rating.mixed ? MIXED : String(Math.max(0, rating.value ?? 0))}
            choices={[
              ...(rating.mixed ? [{ value: MIXED, label: words.several }] : []),
              ...RATINGS.map((value) => ({ value, label: value === '0' ? words.noRating : '★'.repeat(Number(value)) })),
            ]}
            onPick={(value) => {
              if (value !== MIXED) change({ rating: Number(value) })
            }}
          />
        </span>
        <SelectionRaws shoot={shoot} frames={frames} all={all} of={hashOf(frames)} />
        <ShowMore open={open} onOpen={setOpen} says={[words.open, words.close]} />
        {undo !== null && (
          <button type="button" className="link" onClick={onUndo}>
            {words.undo(undo)}
          </button>
        )}
        <button type="button" className="link" onClick={onClear}>
          {words.nothing}
        </button>
      </div>
      {open && (
        <Texts
          key={hashOf(frames)}
          texts={texts}
          frames={count}
          onChange={(field, text) => {
            change({ texts: { [field]: text } })
          }}
        />
      )}
    </section>
  )
}

function Texts({
  texts,
  frames,
  onChange,
}: {
  texts: Says['texts']
  frames: number
  onChange: (field: MetadataField, text: string) => void
}) {
  const [added, setAdded] = useState<MetadataField[]>([])
  const shown = (Object.keys(FIELDS) as MetadataField[]).filter(
    (field) => !OF_FRAME.includes(field) && (added.includes(field) || texts.some((text) => text.field === field)),
  )
  const left = (Object.keys(FIELDS) as MetadataField[]).filter(
    (field) => !OF_FRAME.includes(field) && !shown.includes(field),
  )
  return (
    <div className="mt-2 max-h-[46vh] overflow-y-auto border border-rule bg-leaf px-5 py-3">
      <div className="grid max-w-[120ch] grid-cols-[180px_1fr] items-baseline gap-x-4 gap-y-1">
        {shown.map((field) => {
          const said = texts.find((text) => text.field === field)
          return (
            <Text
              key={field}
              field={field}
              said={said ?? { field, text: '', frames: 0 }}
              frames={frames}
              onChange={(text) => {
                onChange(field, text)
              }}
            />
          )
        })}
      </div>
      <div className="mt-2">
        <FieldMenu
          side="top"
          fields={left}
          onAdd={(field) => {
            setAdded([...added, field])
          }}
        />
      </div>
    </div>
  )
}

/**
 * A field of the selection; where frames say different things it stands empty and says so, until something is typed for
 * all.
 */
function Text({
  field,
  said,
  frames,
  onChange,
}: {
  field: MetadataField
  said: Says['texts'][number]
  frames: number
  onChange: (text: string) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const mixed = said.text === null
  const value = typed ?? said.text ?? ''
  const done = () => {
    if (typed !== null && typed !== (said.text ?? '')) onChange(typed)
    setTyped(null)
  }
  if (field === 'copyright_marked') {
    return (
      <>
        <span className="text-soft">{FIELDS[field]}</span>
        <span>
          <Pick
            label={FIELDS[field]}
            side="top"
            value={said.text ?? MIXED}
            choices={[
              ...(mixed ? [{ value: MIXED, label: words.several }] : []),
              { value: 'true', label: words.marked },
              { value: 'false', label: words.publicDomain },
            ]}
            onPick={(picked) => {
              if (picked !== MIXED) onChange(picked)
            }}
          />
        </span>
      </>
    )
  }
  return (
    <>
      <label className="text-soft" htmlFor={`says-${field}`}>
        {FIELDS[field]}
      </label>
      <textarea
        id={`says-${field}`}
        rows={Math.min(6, Math.max(1, value.split('\n').length, Math.ceil(value.length / 110)))}
        value={value}
        placeholder={mixed ? words.forAll(said.frames, frames) : ''}
        onChange={(event) => {
          setTyped(event.target.value)
        }}
        onBlur={done}
        onKeyDown={(event) => {
          if (event.key === 'Escape') {
            event.stopPropagation()
            setTyped(null)
            event.currentTarget.blur()
          }
        }}
        className="w-full resize-none typed"
      />
    </>
  )
}

function saysOf(shoot: number, frames: number[]) {
  return ['shoots', shoot, 'says', frames.length === 1 ? frames[0] : frames.length, hashOf(frames)]
}

/** Tells selections apart, so that an answer is shown for the one it was given for. */
function hashOf(frames: number[]): string {
  let hash = 0
  for (const frame of frames) hash = (Math.imul(hash, 31) + frame) | 0
  return `${frames.length} ${hash}`
}
