import { useState } from 'react'
import type { Style } from '../../api/client'
import { Field, Lines } from './PatternRow'

type Subfolders = Style['subfolders']

export const RUNS = [
  { member: 'time_lapse', label: 'time-lapses in', keyword: 'keyword of time-lapses' },
  { member: 'bracket', label: 'brackets in', keyword: 'keyword of brackets' },
  { member: 'burst', label: 'bursts in', keyword: 'keyword of bursts' },
] as const

const FOLDERS = [
  { member: 'raw', label: 'raw files in' },
  { member: 'jpeg', label: 'other stills in' },
  { member: 'movie', label: 'movies and sound in' },
  ...RUNS,
] as const

const LISTS = [
  { member: 'skeleton', label: 'made with each shoot', none: 'with each shoot' },
  { member: 'stages', label: 'the same folder on the shelves', none: 'the same on other shelves' },
] as const

/** Which files get folders of their own. What gets none takes one quiet line, and a word of it opens its field. */
export function SubfoldersRule({
  subfolders,
  onChange,
}: {
  subfolders: Subfolders
  onChange: (changed: Partial<Subfolders>) => void
}) {
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set())
  const open = (member: string) => {
    setOpened(new Set([...opened, member]))
  }
  const isOpen = (member: keyof Subfolders) => opened.has(member) || (subfolders[member]?.length ?? 0) > 0
  return (
    <>
      <div className="grid max-w-[420px] gap-2">
        {FOLDERS.filter(({ member }) => isOpen(member)).map(({ member, label }) => (
          <Field
            key={member}
            label={label}
            value={subfolders[member] ?? ''}
            onChange={(folder) => {
              open(member) // what is emptied while it is typed stays where it is
              onChange({ [member]: folder.trim() === '' ? null : folder })
            }}
          />
        ))}
        <Field
          label="other files in"
          value={subfolders.loose}
          onChange={(loose) => {
            onChange({ loose })
          }}
        />
        {LISTS.filter(({ member }) => isOpen(member)).map(({ member, label }) => (
          <Lines
            key={member}
            label={label}
            value={subfolders[member]}
            onChange={(folders) => {
              open(member)
              onChange({ [member]: folders })
            }}
          />
        ))}
      </div>
      <Quiet
        says="No folder of their own:"
        words={FOLDERS.filter(({ member }) => !isOpen(member)).map(({ member, label }) => ({
          member,
          word: label.replace(/ in$/, ''),
        }))}
        onOpen={open}
      />
      <Quiet
        says="No further folders:"
        words={LISTS.filter(({ member }) => !isOpen(member)).map(({ member, none }) => ({ member, word: none }))}
        onOpen={open}
      />
    </>
  )
}

function Quiet({
  says,
  words,
  onOpen,
}: {
  says: string
  words: { member: string; word: string }[]
  onOpen: (member: string) => void
}) {
  if (words.length === 0) return null
  return (
    <p className="mt-2 text-[13px] text-soft">
      {says}{' '}
      {words.map(({ member, word }, i) => (
        <span key={member}>
          {i > 0 && ', '}
          <button
            type="button"
            className="link"
            onClick={() => {
              onOpen(member)
            }}
          >
            {word}
          </button>
        </span>
      ))}
    </p>
  )
}
