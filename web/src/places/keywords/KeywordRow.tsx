import { useState } from 'react'
import { api, type Keyword } from '../../api/client'
import { classes } from '../../parts/classes'
import { Pick } from '../../parts/Pick'
import { Sure } from '../../parts/Sure'
import { plural } from '../../parts/words'
import { texts } from './texts'

/** Something that is done to a keyword; the answer is the whole catalogue. */
export type KeywordAct = () => Promise<Keyword[]>

interface Props {
  keyword: Keyword
  all: Keyword[]
  open: boolean
  onOpen: () => void
  onAct: (act: KeywordAct) => void
}

/** What files get of a keyword. One that orders those beneath it is written as little as one that is private. */
const WRITTEN = [
  { value: 'word', label: texts.editor.ways.word },
  { value: 'parents', label: texts.editor.ways.parents },
  { value: 'nothing', label: texts.editor.ways.nothing },
] as const

function writtenOf(keyword: Keyword): (typeof WRITTEN)[number]['value'] {
  if (keyword.heading || keyword.private) return 'nothing'
  return keyword.with_above && keyword.above !== null ? 'parents' : 'word'
}

/** A keyword of the catalogue; opened, what can be changed about it. */
export function KeywordRow({ keyword, all, open, onOpen, onAct }: Props) {
  const marks = [
    writtenOf(keyword) === 'nothing' && texts.notWritten,
    writtenOf(keyword) === 'word' && keyword.above !== null && texts.withoutParents,
  ].filter((mark) => mark !== false)
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        aria-expanded={open}
        onClick={onOpen}
        className="flex min-h-8 w-full items-baseline gap-3 py-1 text-left hover:bg-velvet-wash"
        style={{ paddingLeft: (keyword.path.split(' › ').length - 1) * 26 }}
      >
        <span className={keyword.heading ? 'serif text-[17px]' : ''}>{keyword.name}</span>
        {keyword.synonyms.length > 0 && <span className="text-[13px] text-soft">{texts.also(keyword.synonyms)}</span>}
        {marks.length > 0 && <span className="text-[13px] text-soft">· {marks.join(', ')}</span>}
        <span className="ml-auto pr-2 text-[13px] text-soft">
          {keyword.frames > 0 ? plural(keyword.frames, 'frame') : ''}
        </span>
      </button>
      {open && <Editor keyword={keyword} all={all} onAct={onAct} />}
    </li>
  )
}

function Editor({ keyword, all, onAct }: Omit<Props, 'open' | 'onOpen'>) {
  const above = all.find((each) => each.id === keyword.above)?.path ?? ''
  const [name, setName] = useState(keyword.name)
  const [under, setUnder] = useState(above)
  const [synonyms, setSynonyms] = useState(keyword.synonyms.join(', '))
  const [into, setInto] = useState('')
  const target = all.find(
    (each) => each.path.toLocaleLowerCase() === into.trim().toLocaleLowerCase() && each.id !== keyword.id,
  )
  const beneath = all.filter((each) => each.path.startsWith(`${keyword.path} › `)).length
  const change = (what: Parameters<typeof api.changeKeyword>[1]) => {
    onAct(() => api.changeKeyword(keyword.id, what))
  }
  const list = `keywords-${keyword.id}`
  return (
    <div
      className={classes(
        'mb-2 grid grid-cols-[150px_minmax(0,420px)] items-baseline gap-x-4 gap-y-1.5',
        'border-l-2 border-velvet bg-leaf px-4 py-3',
      )}
    >
      <datalist id={list}>
        {all
          .filter((each) => each.id !== keyword.id)
          .map((each) => (
            <option key={each.id} value={each.path} />
          ))}
      </datalist>
      <Text
        label={texts.editor.name}
        id={`name-${keyword.id}`}
        value={name}
        onChange={setName}
        onDone={() => {
          if (name.trim() !== keyword.name) change({ name })
        }}
      />
      <Text
        label={texts.editor.beneath}
        id={`above-${keyword.id}`}
        value={under}
        onChange={setUnder}
        list={list}
        placeholder={texts.editor.topLevel}
        onDone={() => {
          if (under.trim() !== above) change({ above: under.trim() })
        }}
      />
      <Text
        label={texts.editor.synonyms}
        id={`also-${keyword.id}`}
        value={synonyms}
        onChange={setSynonyms}
        placeholder={texts.editor.synonymsHint}
        onDone={() => {
          if (synonyms !== keyword.synonyms.join(', '))
            change({
              synonyms: synonyms
                .split(',')
                .map((word) => word.trim())
                .filter((word) => word !== ''),
            })
        }}
      />
      <span className="text-soft">{texts.editor.written}</span>
      <span>
        <Pick
          label={texts.editor.writtenOf(keyword.name)}
          value={writtenOf(keyword)}
          choices={keyword.above === null ? WRITTEN.filter(({ value }) => value !== 'parents') : WRITTEN}
          onPick={(written) => {
            change({
              heading: written === 'nothing' && keyword.heading,
              private: written === 'nothing' && !keyword.heading,
              with_above: written === 'nothing' ? keyword.with_above : written === 'parents',
            })
          }}
        />
      </span>
      <label className="text-soft" htmlFor={`into-${keyword.id}`}>
        {texts.editor.mergeInto}
      </label>
      <span className="flex items-baseline gap-3">
        <input
          id={`into-${keyword.id}`}
          list={list}
          value={into}
          onChange={(event) => {
            setInto(event.target.value)
          }}
          placeholder={texts.editor.mergeHint}
          className="h-7 flex-1 sought"
        />
        <button
          type="button"
          className="button"
          disabled={!target}
          onClick={() => {
            if (target) onAct(() => api.mergeKeyword(keyword.id, target.id))
          }}
        >
          {texts.editor.merge}
        </button>
      </span>
      <span />
      <span className="justify-self-start">
        <Sure
          ask={texts.editor.delete}
          says={texts.editor.deleteSays(keyword, beneath)}
          act={texts.editor.deleteIt(keyword.name)}
          isBusy={false}
          onAct={() => {
            onAct(() => api.deleteKeyword(keyword.id))
          }}
        />
      </span>
    </div>
  )
}

function Text({
  label,
  id,
  value,
  onChange,
  onDone,
  list,
  placeholder,
}: {
  label: string
  id: string
  value: string
  onChange: (value: string) => void
  onDone: () => void
  list?: string
  placeholder?: string
}) {
  return (
    <>
      <label className="text-soft" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        list={list}
        value={value}
        placeholder={placeholder}
        autoComplete="off"
        onChange={(event) => {
          onChange(event.target.value)
        }}
        onBlur={onDone}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
        }}
        className="h-7 sought"
      />
    </>
  )
}
