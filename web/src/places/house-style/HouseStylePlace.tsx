import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Piece, type Style, type Styles, type StyleSample } from '../../api/client'
import { classes } from '../../parts/classes'
import { Heading } from '../../parts/Heading'
import { DNG, type DngChoice } from '../../parts/dng'
import { choicesOf } from '../../parts/choices'
import { Pick } from '../../parts/Pick'
import { Picture } from '../../parts/Picture'
import { Sure } from '../../parts/Sure'
import { Trouble, Waiting } from '../../parts/Trouble'
import { moment } from '../../parts/words'
import { MetadataRule, saidIn } from './MetadataRule'
import { Field, Lines, NumberField, PatternRow } from './PatternRow'
import { RUNS, SubfoldersRule } from './SubfoldersRule'
import { texts } from './texts'

const PAUSE = 350
/**
 * The house styles: rules in the order in which they act, each with a sample from real frames; what is changed is kept
 * at once.
 */
export function HouseStylePlace() {
  const styles = useQuery({ queryKey: ['styles'], queryFn: api.styles })
  const [chosen, setChosen] = useState<string | null>(null)
  if (!styles.data) return <Waiting error={styles.error} />
  const name = styles.data.styles.some((style) => style.name === chosen) ? (chosen ?? '') : styles.data.standard
  const style = styles.data.styles.find((each) => each.name === name)
  return style ? <Editor key={name} style={style} styles={styles.data} onChoose={setChosen} /> : null
}

function Editor({ style, styles, onChoose }: { style: Style; styles: Styles; onChoose: (name: string) => void }) {
  const queries = useQueryClient()
  const [draft, setDraft] = useState(style)
  const timer = useRef(0)
  const samples = useQuery({ queryKey: ['samples', style.name], queryFn: () => api.styleSamples(style) })
  const save = useMutation({
    meta: { inPlace: true },
    mutationFn: (changed: Style) => api.saveStyle(style.name, changed),
    scope: { id: `house style ${style.name}` },
    // who goes and comes back before the answer finds what was typed
    onMutate: async (changed) => {
      await queries.cancelQueries({ queryKey: ['styles'] })
      if (changed.name === style.name)
        queries.setQueryData<Styles>(
          ['styles'],
          (all) => all && { ...all, styles: all.styles.map((each) => (each.name === style.name ? changed : each)) },
        )
    },
    onSuccess: async (answer, changed) => {
      // what was asked before it was kept may be answered after it
      await queries.cancelQueries({ queryKey: ['styles'] })
      queries.setQueryData(['styles'], answer)
      queries.setQueryData(['samples', changed.name], await api.styleSamples(changed))
      void queries.invalidateQueries({ queryKey: ['sheet'] })
      if (changed.name !== style.name) onChoose(changed.name)
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['styles'] }),
  })
  const { mutate } = save
  // what was typed last is kept when another place is clicked, and when the page goes away
  const waiting = useRef<Style | null>(null)
  useLayoutEffect(() => {
    const rest = () => {
      window.clearTimeout(timer.current)
      const changed = waiting.current
      waiting.current = null
      if (changed === null) return
      mutate(changed)
    }
    const leave = () => {
      if (waiting.current !== null) void api.saveStyle(style.name, waiting.current)
    }
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      rest()
    }
  }, [mutate, queries, style.name])
  const change = (part: Partial<Style>) => {
    const changed = { ...draft, ...part }
    setDraft(changed)
    window.clearTimeout(timer.current)
    // a field that says nothing yet is not kept
    const said = (all: Style['metadata']['texts']) => all.filter(({ pieces }) => pieces.length > 0)
    const rights = changed.metadata.rights
      .filter(({ name }) => name.trim() !== '')
      .map((set) => ({ ...set, texts: said(set.texts) }))
    const kept = { ...changed, metadata: { ...changed.metadata, texts: said(changed.metadata.texts), rights } }
    waiting.current = kept
    timer.current = window.setTimeout(() => {
      waiting.current = null
      mutate(kept)
    }, PAUSE)
  }
  const sample = samples.data?.find((each) => each.day !== each.captured_at.slice(0, 10)) ?? samples.data?.[0]
  const { copies, divide, metadata, subfolders, take, ties } = draft
  return (
    <div className="page pb-16">
      <Head
        style={style}
        styles={styles}
        onChoose={onChoose}
        onRename={(name) => {
          change({ name })
        }}
      />
      {save.error && (
        <div className="mt-2">
          <Trouble>
            {save.error.message} {texts.kept}
          </Trouble>
        </div>
      )}
      <ol>
        <Rule
          n={1}
          title={texts.divide.title}
          rule={texts.divide.rule}
          sample={
            sample && (
              <>
                {texts.divide.sample(sample.original, moment(sample.captured_at))} <b>{sample.day}</b>
              </>
            )
          }
        >
          <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
            <Pick
              label={texts.divide.split}
              value={divide.by}
              choices={choicesOf(texts.divide.by)}
              onPick={(by) => {
                change({ divide: { ...divide, by } })
              }}
            />
            <span className="w-[190px]">
              <Field
                label={texts.divide.dayStarts}
                value={divide.day_starts}
                onChange={(day_starts) => {
                  change({ divide: { ...divide, day_starts } })
                }}
              />
            </span>
            <div className="w-[220px]">
              <NumberField
                label={texts.divide.gaps}
                value={divide.break_after}
                least={1}
                most={10_080}
                onChange={(break_after) => {
                  change({ divide: { ...divide, break_after } })
                }}
                onEmpty={() => {
                  change({ divide: { ...divide, break_after: null } })
                }}
              />
            </div>
          </div>
        </Rule>
        <Rule n={2} title={texts.folder.title} rule={texts.folder.rule} sample={sample && <b>{sample.folder}</b>}>
          <Levels
            levels={draft.folder}
            onChange={(folder) => {
              change({ folder })
            }}
          />
        </Rule>
        <Rule
          n={3}
          title={texts.file.title}
          rule={texts.file.rule}
          sample={
            sample && (
              <>
                {texts.file.sample(sample.original)} <b>{sample.file}</b>
              </>
            )
          }
        >
          <PatternRow
            label={texts.file.name}
            use="file"
            pieces={draft.file}
            onChange={(file) => {
              change({ file })
            }}
          />
          <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px]">
            <span className="text-soft">{texts.file.movies}</span>
            <Pick
              label={texts.file.moviesLabel}
              value={draft.movie_file === null ? 'same' : 'own'}
              choices={choicesOf(texts.file.moviesBy)}
              onPick={(way) => {
                change({ movie_file: way === 'own' ? draft.file : null })
              }}
            />
          </div>
          {draft.movie_file !== null && (
            <div className="mt-2">
              <PatternRow
                label={texts.file.movieName}
                use="file"
                pieces={draft.movie_file}
                onChange={(movie_file) => {
                  change({ movie_file })
                }}
              />
            </div>
          )}
          <div className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-[13px] text-soft">
            <span>
              {texts.file.extension}{' '}
              <Pick
                label={texts.file.extensionLabel}
                value={draft.extension}
                choices={choicesOf(texts.file.extensions)}
                onPick={(extension) => {
                  change({ extension })
                }}
              />
            </span>
            <span className="w-full max-w-[180px]">
              <Field
                label={texts.file.initials}
                value={draft.initials}
                onChange={(initials) => {
                  change({ initials })
                }}
              />
            </span>
          </div>
        </Rule>
        <Rule n={4} title={texts.subfolders.title} rule={texts.subfolders.rule} sample={null}>
          <SubfoldersRule
            subfolders={subfolders}
            onChange={(changed) => {
              change({ subfolders: { ...subfolders, ...changed } })
            }}
          />
        </Rule>
        <Rule n={5} title={texts.take.title} rule={texts.take.rule} sample={null}>
          <div className="flex flex-wrap gap-x-5 gap-y-1">
            <Pick
              label={texts.take.kindsLabel}
              value={take.kinds}
              choices={choicesOf(texts.take.kinds)}
              onPick={(kinds) => {
                change({ take: { ...take, kinds } })
              }}
            />
            <span className="text-soft">
              {texts.take.pairs}{' '}
              <Pick
                label={texts.take.pairsLabel}
                value={take.pairs}
                choices={choicesOf(texts.take.pairsAs)}
                onPick={(pairs) => {
                  change({ take: { ...take, pairs } })
                }}
              />
            </span>
            <span className="text-soft">
              {texts.take.companions}{' '}
              <Pick
                label={texts.take.companionsLabel}
                value={take.companions ? 'yes' : 'no'}
                choices={choicesOf(texts.take.copied)}
                onPick={(value) => {
                  change({ take: { ...take, companions: value === 'yes' } })
                }}
              />
            </span>
            <span className="text-soft">
              {texts.take.loose}{' '}
              <Pick
                label={texts.take.looseLabel}
                value={take.loose ? 'yes' : 'no'}
                choices={choicesOf(texts.take.copied)}
                onPick={(value) => {
                  change({ take: { ...take, loose: value === 'yes' } })
                }}
              />
            </span>
          </div>
        </Rule>
        <Rule n={6} title={texts.dng.title} rule={texts.dng.rule} sample={null}>
          <span className="text-soft">
            {texts.dng.raws}{' '}
            <Pick
              label={texts.dng.rawsLabel}
              value={draft.dng}
              choices={(Object.keys(DNG) as DngChoice[]).map((value) => ({ value, label: DNG[value] }))}
              onPick={(dng) => {
                change({ dng })
              }}
            />
          </span>
        </Rule>
        <Rule
          n={7}
          title={texts.metadata.title}
          rule={texts.metadata.rule}
          sample={
            saidIn(sample) && (
              <>
                {texts.metadata.sample(sample?.original ?? '')} <b>{saidIn(sample)}</b>
              </>
            )
          }
        >
          <p className="mb-2 text-[13px]">
            <Link to="/house-style/keywords" className="link">
              {texts.metadata.catalogue}
            </Link>
          </p>
          <MetadataRule
            rules={metadata}
            onChange={(rules) => {
              change({ metadata: rules })
            }}
          />
          <div className="mt-2 grid max-w-[420px] gap-2">
            {RUNS.map((member) => (
              <Field
                key={member}
                label={texts.metadata.runs[member]}
                value={metadata.runs[member]}
                onChange={(text) => {
                  change({ metadata: { ...metadata, runs: { ...metadata.runs, [member]: text } } })
                }}
              />
            ))}
          </div>
        </Rule>
        <Rule n={8} title={texts.ties.title} rule={texts.ties.rule} sample={null}>
          <div className="grid max-w-[420px] gap-2">
            <Lines
              label={texts.ties.cards}
              value={ties.cards}
              onChange={(cards) => {
                change({ ties: { ...ties, cards } })
              }}
            />
            <Lines
              label={texts.ties.cameras}
              value={ties.cameras}
              onChange={(cameras) => {
                change({ ties: { ...ties, cameras } })
              }}
            />
            <Lines
              label={texts.ties.shelves}
              value={ties.shelves}
              onChange={(shelves) => {
                change({ ties: { ...ties, shelves } })
              }}
            />
          </div>
        </Rule>
        <Rule n={9} title={texts.copies.title} rule={texts.copies.rule} sample={null}>
          <div className="flex flex-wrap gap-x-5 gap-y-1">
            <span className="text-soft">
              {texts.copies.digest}{' '}
              <Pick
                label={texts.copies.digestLabel}
                value={copies.second_digest ?? 'none'}
                choices={choicesOf(texts.copies.digests)}
                onPick={(value) => {
                  change({ copies: { ...copies, second_digest: value === 'none' ? null : value } })
                }}
              />
            </span>
            <span className="text-soft">
              {texts.copies.checksums}{' '}
              <Pick
                label={texts.copies.checksumsLabel}
                value={copies.manifests ? 'yes' : 'no'}
                choices={choicesOf(texts.copies.laid)}
                onPick={(value) => {
                  change({ copies: { ...copies, manifests: value === 'yes' } })
                }}
              />
            </span>
          </div>
        </Rule>
      </ol>
      {samples.data && samples.data.length > 0 && <Samples samples={samples.data} />}
      {styles.cameras.length > 0 && <Cameras cameras={styles.cameras} />}
    </div>
  )
}

function Head({
  style,
  styles,
  onChoose,
  onRename,
}: {
  style: Style
  styles: Styles
  onChoose: (name: string) => void
  onRename: (name: string) => void
}) {
  const queries = useQueryClient()
  const [name, setName] = useState(style.name)
  const file = useRef<HTMLInputElement>(null)
  const act = useMutation({
    meta: { inPlace: true },
    mutationFn: (ask: () => Promise<Styles>) => ask(),
    onSuccess: (answer) => {
      queries.setQueryData(['styles'], answer)
      if (answer.added) onChoose(answer.added)
    },
  })
  const isStandard = style.name === styles.standard
  const take = async (picked: File | undefined) => {
    if (!picked) return
    const text = await picked.text()
    act.mutate(async () => {
      let document: unknown
      try {
        document = JSON.parse(text)
      } catch {
        throw new Error(texts.head.noJson(picked.name))
      }
      return api.addStyle(document as Style)
    })
  }
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 pt-5 pb-2">
        <Heading>{texts.title}</Heading>
        <Pick
          label={texts.head.which}
          value={style.name}
          choices={styles.styles.map((each) => ({
            value: each.name,
            label: each.name === styles.standard ? texts.head.standard(each.name) : each.name,
          }))}
          onPick={onChoose}
        />
        <label className="flex items-baseline gap-2 text-soft">
          {texts.head.called}
          <input
            aria-label={texts.head.name}
            value={name}
            className="w-[170px] typed font-semibold text-ink"
            onChange={(event) => {
              setName(event.target.value)
            }}
            onBlur={() => {
              if (name.trim() !== '' && name !== style.name) onRename(name.trim())
            }}
          />
        </label>
        <span className="ml-auto flex flex-wrap gap-4">
          <button
            type="button"
            className="link"
            onClick={() => {
              act.mutate(() => api.addStyle({ ...style, name: texts.head.freshName(style.name) }))
            }}
          >
            {texts.head.fresh}
          </button>
          {!isStandard && (
            <button
              type="button"
              className="link"
              onClick={() => {
                act.mutate(() => api.makeStandard(style.name))
              }}
            >
              {texts.head.makeStandard}
            </button>
          )}
          {!isStandard && (
            <Sure
              ask={texts.head.remove}
              says={texts.head.sure(style.name)}
              act={texts.head.removeIt}
              isBusy={act.isPending}
              onAct={() => {
                act.mutate(() => api.removeStyle(style.name))
              }}
            />
          )}
          <a
            className="link inline-flex items-center"
            download={`${style.name}.json`}
            href={`data:application/json,${encodeURIComponent(JSON.stringify(style, null, 2))}`}
          >
            {texts.head.export}
          </a>
          <button type="button" className="link" onClick={() => file.current?.click()}>
            {texts.head.import}
          </button>
          <input
            ref={file}
            type="file"
            accept="application/json,.json"
            aria-label={texts.head.importFile}
            className="hidden"
            onChange={(event) => {
              void take(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </span>
      </div>
      {act.error && <Trouble>{act.error.message}</Trouble>}
    </>
  )
}

function Levels({ levels, onChange }: { levels: Piece[][]; onChange: (levels: Piece[][]) => void }) {
  return (
    <div className="grid gap-2">
      {levels.map((level, i) => (
        <div key={i} className="flex items-center gap-3">
          <span className="w-[18px] text-right text-soft">{i + 1}</span>
          <PatternRow
            label={texts.folder.level(i + 1)}
            use="folder"
            pieces={level}
            onChange={(pieces) => {
              onChange(levels.map((each, n) => (n === i ? pieces : each)))
            }}
          />
          {levels.length > 1 && (
            <button
              type="button"
              className="link text-[13px]"
              aria-label={texts.folder.removeLevel(i + 1)}
              onClick={() => {
                onChange(levels.filter((_, n) => n !== i))
              }}
            >
              {texts.folder.remove}
            </button>
          )}
        </div>
      ))}
      {levels.length < 6 && (
        <button
          type="button"
          className="link justify-self-start text-[13px]"
          onClick={() => {
            onChange([[{ piece: 'shoot_day', format: 'yyyy' }], ...levels])
          }}
        >
          {texts.folder.above}
        </button>
      )}
    </div>
  )
}

function Rule({
  n,
  title,
  rule,
  sample,
  children,
}: {
  n: number
  title: string
  rule: ReactNode
  sample: ReactNode
  children: ReactNode
}) {
  return (
    <li
      className={classes(
        'grid grid-cols-[44px_minmax(220px,0.8fr)_minmax(0,1.6fr)] gap-x-6 border-b border-rule py-4',
        'max-md:grid-cols-[28px_minmax(0,1fr)] max-md:gap-x-3 max-md:gap-y-3',
      )}
    >
      <span className="serif text-[28px] leading-none text-velvet">{n}</span>
      <div>
        <h2 className="text-[19px]">{title}</h2>
        <p className="mt-1 max-w-[52ch] text-[13px] text-soft">{rule}</p>
      </div>
      <div className="min-w-0 self-center max-md:col-start-2">
        {children}
        {sample && <p className="mt-2 break-words [&_b]:font-semibold">{sample}</p>}
      </div>
    </li>
  )
}

function Samples({ samples }: { samples: StyleSample[] }) {
  return (
    <section aria-label={texts.samples.label} className="mt-8">
      <h2 className="mb-3 text-[21px]">{texts.samples.title}</h2>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5">
        {samples.map((sample) => (
          <figure key={sample.original + sample.captured_at} className="border border-rule bg-leaf">
            <div className="mat grid h-[150px] place-items-center">
              <Picture fingerprint={sample.picture} name={sample.original} height={132} />
            </div>
            <figcaption className="px-3.5 py-2.5 text-[13px]">
              <div className="text-soft">
                {sample.original}, {moment(sample.captured_at)}
              </div>
              <div className="font-semibold break-words">{sample.file}</div>
              <div className="text-soft">{texts.samples.in(sample.folder, sample.named)}</div>
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  )
}

/** Short names for camera bodies, for the piece that says the camera. */
function Cameras({ cameras }: { cameras: Styles['cameras'] }) {
  return (
    <section aria-label={texts.cameras.title} className="mt-8 max-w-[640px]">
      <h2 className="mb-2 text-[21px]">{texts.cameras.title}</h2>
      <p className="mb-2 text-[13px] text-soft">{texts.cameras.about}</p>
      {cameras.map((camera) => (
        <CameraName key={camera.camera} camera={camera} />
      ))}
    </section>
  )
}

function CameraName({ camera }: { camera: Styles['cameras'][number] }) {
  const queries = useQueryClient()
  const [name, setName] = useState(camera.name)
  const save = useMutation({
    mutationFn: () => api.nameCamera(camera.camera, name),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['styles'] })
      void queries.invalidateQueries({ queryKey: ['samples'] })
    },
  })
  return (
    <div
      className={classes(
        'grid grid-cols-[minmax(0,1fr)_180px_90px] items-baseline gap-4 border-t border-rule py-2',
        'max-sm:grid-cols-1 max-sm:gap-1',
      )}
    >
      <span>{camera.camera}</span>
      <input
        aria-label={texts.cameras.name(camera.camera)}
        value={name}
        placeholder={texts.cameras.nameHint}
        className="typed font-semibold placeholder:font-normal"
        onChange={(event) => {
          setName(event.target.value)
        }}
        onBlur={() => {
          if (name !== camera.name) save.mutate()
        }}
      />
      <span className="text-right text-[13px] text-soft">{texts.cameras.frames(camera.frames)}</span>
    </div>
  )
}
