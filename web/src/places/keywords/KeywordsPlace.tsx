import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, type Keyword } from '../../api/client'
import { Heading } from '../../parts/Heading'
import { Nothing, Trouble, Waiting } from '../../parts/Trouble'
import { KeywordRow, type KeywordAct } from './KeywordRow'
import { texts } from './texts'

interface Taken {
  name: string
  added: number
  read: number
  problems: string[]
}

/** The catalogue of keywords: what is changed here is changed on every frame, and the files follow. */
export function KeywordsPlace() {
  const queries = useQueryClient()
  const keywords = useQuery({ queryKey: ['keywords', 'all'], queryFn: api.keywords })
  const [words, setWords] = useState('')
  const [opened, setOpened] = useState<number | null>(null)
  const [taken, setTaken] = useState<Taken | null>(null)
  const file = useRef<HTMLInputElement>(null)
  const keep = (all: Keyword[]) => {
    queries.setQueryData(['keywords', 'all'], all)
    void queries.invalidateQueries({ queryKey: ['keywords', 'meant'] })
    void queries.invalidateQueries({ queryKey: ['sheet'] })
    void queries.invalidateQueries({ queryKey: ['shoots'] })
  }
  const act = useMutation({ meta: { inPlace: true }, mutationFn: (ask: KeywordAct) => ask(), onSuccess: keep })
  const add = useMutation({
    meta: { inPlace: true },
    mutationFn: api.addKeyword,
    onSuccess: (all) => {
      keep(all)
      setWords('')
    },
  })
  const take = useMutation({
    meta: { inPlace: true },
    mutationFn: api.importKeywords,
    onSuccess: (answer, list) => {
      keep(answer.keywords)
      setTaken({ name: list.name, added: answer.added, read: answer.read, problems: answer.problems })
    },
  })
  const found = useMemo(() => matching(keywords.data ?? [], words), [keywords.data, words])
  if (!keywords.data) return <Waiting error={keywords.error} />
  const error = act.error ?? add.error ?? take.error
  return (
    <div className="page pb-16">
      <div className="pt-5 pb-1 text-[13px]">
        <Link to="/house-style" className="link">
          {texts.back}
        </Link>
      </div>
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-2 pb-3">
        <Heading>{texts.title}</Heading>
        <p className="text-soft">{texts.count(keywords.data.length)}</p>
        <span className="ml-auto flex items-baseline gap-5">
          <button
            type="button"
            className="link"
            onClick={() => {
              file.current?.click()
            }}
          >
            {texts.import}
          </button>
          <input
            ref={file}
            type="file"
            aria-label={texts.importFile}
            accept=".txt,.csv,text/plain,text/csv"
            className="sr-only"
            tabIndex={-1}
            onChange={(event) => {
              const [list] = event.target.files ?? []
              if (list) take.mutate(list)
              event.target.value = ''
            }}
          />
          {keywords.data.length > 0 && (
            <span className="text-soft">
              {texts.exportAs}{' '}
              <a className="link" href="/api/keywords/export.csv" download>
                {texts.csv}
              </a>{' '}
              {texts.or}{' '}
              <a className="link" href="/api/keywords/export.txt" download>
                {texts.indented}
              </a>
            </span>
          )}
        </span>
      </div>
      {error && <Trouble>{error.message}</Trouble>}
      {taken && (
        <div role="status" className="mb-3 border border-rule bg-leaf px-4 py-2.5">
          <p>
            {texts.taken(taken.name, taken.read, taken.added)}{' '}
            <button
              type="button"
              className="link"
              onClick={() => {
                setTaken(null)
              }}
            >
              {texts.dismiss}
            </button>
          </p>
          {taken.problems.length > 0 && (
            <ul className="mt-1 max-h-[24vh] list-disc overflow-y-auto pl-5 text-brass">
              {taken.problems.map((problem) => (
                <li key={problem}>{problem}</li>
              ))}
            </ul>
          )}
        </div>
      )}
      <form
        className="flex items-baseline gap-4 border-b border-rule pb-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (words.trim() !== '') add.mutate(words.trim())
        }}
      >
        <input
          type="search"
          aria-label={texts.find}
          placeholder={texts.findHint}
          value={words}
          onChange={(event) => {
            setWords(event.target.value)
          }}
          className="h-8 w-[440px] max-w-full sought px-1"
        />
        {words.trim() !== '' &&
          !keywords.data.some((keyword) => keyword.path.toLocaleLowerCase() === words.trim().toLocaleLowerCase()) && (
            <button type="submit" className="button">
              {texts.add(words.trim())}
            </button>
          )}
      </form>
      {keywords.data.length === 0 && (
        <Nothing title={texts.none.title}>
          <p>{texts.none.about}</p>
        </Nothing>
      )}
      {keywords.data.length > 0 && found.length === 0 && <p className="py-8 text-soft">{texts.notFound(words)}</p>}
      <ul aria-label={texts.list}>
        {found.map((keyword) => (
          <KeywordRow
            key={keyword.id}
            keyword={keyword}
            all={keywords.data}
            open={opened === keyword.id}
            onOpen={() => {
              setOpened(opened === keyword.id ? null : keyword.id)
            }}
            onAct={(ask) => {
              act.mutate(ask)
            }}
          />
        ))}
      </ul>
    </div>
  )
}

/** Those that have the words in them or among their synonyms, with those above them. */
function matching(all: Keyword[], words: string): Keyword[] {
  const wanted = words.trim().toLocaleLowerCase()
  if (wanted === '') return all
  const byId = new Map(all.map((keyword) => [keyword.id, keyword]))
  const kept = new Set<number>()
  for (const keyword of all) {
    if (
      !keyword.path.toLocaleLowerCase().includes(wanted) &&
      !keyword.synonyms.some((synonym) => synonym.toLocaleLowerCase().includes(wanted))
    )
      continue
    for (let at: Keyword | undefined = keyword; at && !kept.has(at.id); at = byId.get(at.above ?? 0)) kept.add(at.id)
  }
  return all.filter((keyword) => kept.has(keyword.id))
}
