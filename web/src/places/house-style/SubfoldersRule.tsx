import { useState } from 'react'
import type { Style } from '../../api/client'
import { Field, Lines } from './PatternRow'
import { texts } from './texts'

type Subfolders = Style['subfolders']

const says = texts.subfolders

export const RUNS = ['time_lapse', 'bracket', 'burst'] as const
const FOLDERS = ['raw', 'jpeg', 'movie', ...RUNS] as const
const LISTS = ['skeleton', 'stages'] as const

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
        {FOLDERS.filter(isOpen).map((member) => (
          <Field
            key={member}
            label={says.in(says.of[member])}
            value={subfolders[member] ?? ''}
            onChange={(folder) => {
              open(member) // what is emptied while it is typed stays where it is
              onChange({ [member]: folder.trim() === '' ? null : folder })
            }}
          />
        ))}
        <Field
          label={says.others}
          value={subfolders.loose}
          onChange={(loose) => {
            onChange({ loose })
          }}
        />
        {LISTS.filter(isOpen).map((member) => (
          <Lines
            key={member}
            label={says[member][0]}
            value={subfolders[member]}
            onChange={(folders) => {
              open(member)
              onChange({ [member]: folders })
            }}
          />
        ))}
      </div>
      <Quiet
        about={says.none}
        words={FOLDERS.filter((member) => !isOpen(member)).map((member) => ({ member, word: says.of[member] }))}
        onOpen={open}
      />
      <Quiet
        about={says.noFurther}
        words={LISTS.filter((member) => !isOpen(member)).map((member) => ({ member, word: says[member][1] }))}
        onOpen={open}
      />
    </>
  )
}

function Quiet({
  about,
  words,
  onOpen,
}: {
  about: string
  words: { member: string; word: string }[]
  onOpen: (member: string) => void
}) {
  if (words.length === 0) return null
  return (
    <p className="mt-2 text-[13px] text-soft">
      {about}{' '}
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
