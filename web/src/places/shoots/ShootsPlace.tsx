import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useLocation } from 'react-router'
import { api, type Shoot } from '../../api/client'
import { Heading } from '../../parts/Heading'
import { classes } from '../../parts/classes'
import { Picture } from '../../parts/Picture'
import { Nothing, Waiting } from '../../parts/Trouble'
import { bytes, day } from '../../parts/words'
import { texts } from './texts'

const says = texts.all

/** What is filed: years, then shoots by date. */
export function ShootsPlace() {
  const shoots = useQuery({ queryKey: ['shoots'], queryFn: api.shoots })
  const [words, setWords] = useState('')
  const search = useRef<HTMLInputElement>(null)
  const { state } = useLocation() as { state: { search?: number } | null }
  const loaded = shoots.data !== undefined
  useEffect(() => {
    if (loaded && state?.search) search.current?.focus()
  }, [loaded, state])
  const found = useMemo(() => (shoots.data ?? []).filter((shoot) => matches(shoot, words)), [shoots.data, words])
  if (!shoots.data) return <Waiting error={shoots.error} />
  const years = [...new Set(found.map((shoot) => shoot.day?.slice(0, 4) ?? says.undatedYear))]
  return (
    <div className="page pb-16">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2 pt-5 pb-3">
        <Heading>{says.title}</Heading>
        <p className="text-soft">{says.filed(shoots.data.length)}</p>
        {shoots.data.length > 0 && (
          <input
            ref={search}
            type="search"
            aria-label={says.search}
            placeholder={says.searchHint}
            value={words}
            onChange={(event) => {
              setWords(event.target.value)
            }}
            onKeyDown={(event) => {
              if (event.key === 'Escape') {
                setWords('')
                event.currentTarget.blur()
              }
            }}
            className="ml-auto h-8 w-72 sought px-1"
          />
        )}
      </div>
      {shoots.data.length === 0 && (
        <Nothing title={says.none.title}>
          <p>
            {says.none.about[0]}{' '}
            <Link className="link" to="/bays">
              {says.none.about[1]}
            </Link>
            {says.none.about[2]}
          </p>
        </Nothing>
      )}
      {words.trim() !== '' && found.length > 1 && <Through shoots={found} words={words.trim()} />}
      {shoots.data.length > 0 && found.length === 0 && <p className="py-10 text-soft">{says.notFound(words)}</p>}
      {years.map((year) => (
        <section key={year} aria-label={year} className="mb-6">
          <h2 className="sticky top-12 z-10 bg-paper py-1.5 text-[21px] text-velvet">{year}</h2>
          {found
            .filter((shoot) => (shoot.day?.slice(0, 4) ?? says.undatedYear) === year)
            .map((shoot) => (
              <Row key={shoot.id} shoot={shoot} />
            ))}
        </section>
      ))}
    </div>
  )
}

/** Leads on to a first look at all that was found. */
function Through({ shoots, words }: { shoots: readonly Shoot[]; words: string }) {
  const open = shoots.reduce((sum, shoot) => sum + shoot.open, 0)
  const to = new URLSearchParams({ shoots: shoots.map(({ id }) => id).join(), words })
  return (
    <p className="flex flex-wrap items-baseline gap-x-4 border-t border-rule py-2">
      <span className="text-soft">{says.found(shoots.length)}</span>
      <Link to={`/first-look?${to}`} className="link">
        {says.lookAtAll}
      </Link>
      <span className="text-soft">{says.open(open)}</span>
    </p>
  )
}

function matches(shoot: Shoot, words: string): boolean {
  const text = [shoot.name, shoot.folder, shoot.day ?? '', shoot.day ? day(shoot.day) : '', shoot.shelf]
    .join(' ')
    .toLocaleLowerCase()
  return words
    .toLocaleLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}

function Row({ shoot }: { shoot: Shoot }) {
  return (
    <Link
      to={`/shoots/${shoot.id}`}
      className={classes(
        'grid grid-cols-[120px_minmax(200px,320px)_minmax(0,1fr)_96px_110px_170px] items-center gap-x-6',
        'border-t border-rule py-2.5 hover:bg-velvet-wash',
        'max-xl:grid-cols-[104px_minmax(180px,240px)_minmax(0,1fr)_88px_88px_150px] max-xl:gap-x-4',
        'max-md:grid-cols-[minmax(0,1fr)_auto_auto] max-md:gap-y-1.5',
      )}
    >
      <span className="text-soft max-md:col-span-3">
        {shoot.day === null ? says.undated : day(shoot.day).replace(/ \d{4}$/, '')}
      </span>
      <span className="min-w-0">
        <span className="serif block text-[18px] leading-snug">{shoot.name}</span>
        <span className="text-[13px] text-soft">{shoot.shelf}</span>
      </span>
      <span className="mat strip h-[60px] max-md:order-1 max-md:col-span-3">
        {shoot.pictures.map((picture) => (
          <Picture key={picture} fingerprint={picture} name="" height={50} />
        ))}
      </span>
      <span className="text-right">
        <strong className="font-semibold">{shoot.frames.toLocaleString('en')}</strong>
        <span className="block text-[13px] text-soft">{says.framesOf(shoot.open, shoot.frames)}</span>
      </span>
      <span className="text-right font-medium">{bytes(shoot.bytes)}</span>
      <span className="max-md:order-2 max-md:col-span-3">
        <TwinState shoot={shoot} />
      </span>
    </Link>
  )
}

export function TwinState({ shoot }: { shoot: Shoot }) {
  if (shoot.twinned && shoot.one_drive) return <span className="text-[13px] text-brass">{says.oneDrive}</span>
  return shoot.twinned ? (
    <span className="text-[13px] text-verdigris">{says.twoPlaces}</span>
  ) : (
    <span className="text-[13px] text-brass">{says.notInTwo(shoot.frames - shoot.frames_twinned)}</span>
  )
}
