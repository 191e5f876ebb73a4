import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Piece, type Style, type Styles, type StyleSample } from '../../api/client'
import { classes } from '../../parts/classes'
import { Heading } from '../../parts/Heading'
import { DNG, type DngChoice } from '../../parts/dng'
import { Pick } from '../../parts/Pick'
import { Picture } from '../../parts/Picture'
import { Sure } from '../../parts/Sure'
import { Trouble, Waiting } from '../../parts/Trouble'
import { moment } from '../../parts/words'
import { MetadataRule, saidIn } from './MetadataRule'
import { Field, Lines, NumberField, PatternRow } from './PatternRow'
import { RUNS, SubfoldersRule } from './SubfoldersRule'

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
    const said = (texts: Style['metadata']['texts']) => texts.filter(({ pieces }) => pieces.length > 0)
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
          <Trouble>{save.error.message} What was kept last still holds.</Trouble>
        </div>
      )}
      <ol>
        <Rule
          n={1}
          title="Splitting"
          rule={
            <>
              Where one shoot ends and the next begins. What is shot before the day’s start belongs to the day before,
              so that a night past midnight stays whole.
            </>
          }
          sample={
            sample && (
              <>
                {sample.original}, taken {moment(sample.captured_at)}, belongs to <b>{sample.day}</b>
              </>
            )
          }
        >
          <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
            <Pick
              label="Split"
              value={divide.by}
              choices={[
                { value: 'day', label: 'by day' },
                { value: 'pause', label: 'by gaps' },
                { value: 'camera', label: 'by camera' },
                { value: 'nothing', label: 'never' },
              ]}
              onPick={(by) => {
                change({ divide: { ...divide, by } })
              }}
            />
            <span className="w-[190px]">
              <Field
                label="the day starting at"
                value={divide.day_starts}
                onChange={(day_starts) => {
                  change({ divide: { ...divide, day_starts } })
                }}
              />
            </span>
            <div className="w-[220px]">
              <NumberField
                label="gaps in minutes"
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
        <Rule
          n={2}
          title="Folder"
          rule={
            <>
              One row for each level below the shelf; the last is the shoot’s own folder. Year first, and names sort as
              time does.
            </>
          }
          sample={sample && <b>{sample.folder}</b>}
        >
          <Levels
            levels={draft.folder}
            onChange={(folder) => {
              change({ folder })
            }}
          />
        </Rule>
        <Rule
          n={3}
          title="File"
          rule={
            <>
              Raw, JPEG and companions of a frame share one name. A counter goes on where the folder’s last file ended
              and passes over what is taken; without one, -2, -3 and so on are put behind a name that is taken.
            </>
          }
          sample={
            sample && (
              <>
                {sample.original} becomes <b>{sample.file}</b>
              </>
            )
          }
        >
          <PatternRow
            label="File name"
            use="file"
            pieces={draft.file}
            onChange={(file) => {
              change({ file })
            }}
          />
          <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px]">
            <span className="text-soft">movies and sound are called</span>
            <Pick
              label="Movies and sound are called"
              value={draft.movie_file === null ? 'same' : 'own'}
              choices={[
                { value: 'same', label: 'like pictures' },
                { value: 'own', label: 'by a pattern of their own' },
              ]}
              onPick={(way) => {
                change({ movie_file: way === 'own' ? draft.file : null })
              }}
            />
          </div>
          {draft.movie_file !== null && (
            <div className="mt-2">
              <PatternRow
                label="Name of movies and sound"
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
              extension{' '}
              <Pick
                label="Extension"
                value={draft.extension}
                choices={[
                  { value: 'lower', label: 'lower case' },
                  { value: 'upper', label: 'UPPER CASE' },
                  { value: 'kept', label: 'as it is' },
                ]}
                onPick={(extension) => {
                  change({ extension })
                }}
              />
            </span>
            <span className="w-full max-w-[180px]">
              <Field
                label="initials"
                value={draft.initials}
                onChange={(initials) => {
                  change({ initials })
                }}
              />
            </span>
          </div>
        </Rule>
        <Rule
          n={4}
          title="Subfolders"
          rule={
            <>
              Raw files, all other stills, and movies and sound that belong to no picture may go to folders of their
              own, and so may each run of frames, which gets its number behind the name. Other files keep the names and
              folders that they have on the card. Further folders are made with each shoot, one to a line; and the same
              folder, empty, on other shelves, named one to a line: for working files, for finals.
            </>
          }
          sample={null}
        >
          <SubfoldersRule
            subfolders={subfolders}
            onChange={(changed) => {
              change({ subfolders: { ...subfolders, ...changed } })
            }}
          />
        </Rule>
        <Rule
          n={5}
          title="What is copied"
          rule={
            <>
              If a frame lacks the chosen kind, all its files are copied: nothing is left behind because a camera was
              set otherwise for a moment. Movies, sound and other files that stay on the card keep it from being
              cleared.
            </>
          }
          sample={null}
        >
          <div className="flex flex-wrap gap-x-5 gap-y-1">
            <Pick
              label="Kinds"
              value={take.kinds}
              choices={[
                { value: 'both', label: 'raw and JPEG' },
                { value: 'raw', label: 'raw only' },
                { value: 'jpeg', label: 'JPEG only' },
              ]}
              onPick={(kinds) => {
                change({ take: { ...take, kinds } })
              }}
            />
            <span className="text-soft">
              raw and JPEG of a pair are{' '}
              <Pick
                label="Raw and JPEG of a pair are"
                value={take.pairs}
                choices={[
                  { value: 'jpeg', label: 'one frame, seen by its JPEG' },
                  { value: 'raw', label: 'one frame, seen by its raw file' },
                  { value: 'apart', label: 'two frames, two names' },
                ]}
                onPick={(pairs) => {
                  change({ take: { ...take, pairs } })
                }}
              />
            </span>
            <span className="text-soft">
              movies and sound{' '}
              <Pick
                label="Movies and sound"
                value={take.companions ? 'yes' : 'no'}
                choices={[
                  { value: 'yes', label: 'copied' },
                  { value: 'no', label: 'left on the card' },
                ]}
                onPick={(value) => {
                  change({ take: { ...take, companions: value === 'yes' } })
                }}
              />
            </span>
            <span className="text-soft">
              other files{' '}
              <Pick
                label="Other files"
                value={take.loose ? 'yes' : 'no'}
                choices={[
                  { value: 'yes', label: 'copied' },
                  { value: 'no', label: 'left on the card' },
                ]}
                onPick={(value) => {
                  change({ take: { ...take, loose: value === 'yes' } })
                }}
              />
            </span>
          </div>
        </Rule>
        <Rule
          n={6}
          title="Raw to DNG"
          rule={
            <>
              Without loss: each DNG is read back and every sample compared with the raw file’s before it counts. Where
              it takes the raw file’s place, the copies of that go when the DNG is proven on the shelf and the twin; the
              raw file itself stays on the card. An entry may choose otherwise.
            </>
          }
          sample={null}
        >
          <span className="text-soft">
            raw files{' '}
            <Pick
              label="Raw files"
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
          title="Rights and keywords"
          rule={
            <>
              Written into every copy while it is filed, as XMP, IPTC and Exif; raw files get a sidecar. The picture’s
              own bytes stay as they are, and the card too. The year of the copyright is that of the shot.
            </>
          }
          sample={
            saidIn(sample) && (
              <>
                {sample?.original} will say: <b>{saidIn(sample)}</b>
              </>
            )
          }
        >
          <p className="mb-2 text-[13px]">
            <Link to="/house-style/keywords" className="link">
              The catalogue of keywords
            </Link>
          </p>
          <MetadataRule
            rules={metadata}
            onChange={(rules) => {
              change({ metadata: rules })
            }}
          />
          <div className="mt-2 grid max-w-[420px] gap-2">
            {RUNS.map(({ member, keyword }) => (
              <Field
                key={member}
                label={keyword}
                value={metadata.runs[member]}
                onChange={(text) => {
                  change({ metadata: { ...metadata, runs: { ...metadata.runs, [member]: text } } })
                }}
              />
            ))}
          </div>
        </Rule>
        <Rule
          n={8}
          title="Offered for"
          rule={
            <>
              When a card of this label comes in, or frames of such a camera are on it, this style is offered first; and
              with it this shelf.
            </>
          }
          sample={null}
        >
          <div className="grid max-w-[420px] gap-2">
            <Lines
              label="card labels"
              value={ties.cards}
              onChange={(cards) => {
                change({ ties: { ...ties, cards } })
              }}
            />
            <Lines
              label="cameras"
              value={ties.cameras}
              onChange={(cameras) => {
                change({ ties: { ...ties, cameras } })
              }}
            />
            <Lines
              label="shelves"
              value={ties.shelves}
              onChange={(shelves) => {
                change({ ties: { ...ties, shelves } })
              }}
            />
          </div>
        </Rule>
        <Rule
          n={9}
          title="Copies"
          rule={
            <>
              Each file is read once, written to the shelf and its twin, read back from both drives and compared by
              XXH128 before it gets its name. Nothing is overwritten, and nothing is written to a card. A second,
              cryptographic digest takes longer and also detects deliberate changes; lists of checksums in the shoot’s
              folder are checked by ordinary programs, with or without this one.
            </>
          }
          sample={null}
        >
          <div className="flex flex-wrap gap-x-5 gap-y-1">
            <span className="text-soft">
              second digest{' '}
              <Pick
                label="Second digest"
                value={copies.second_digest ?? 'none'}
                choices={[
                  { value: 'none', label: 'none' },
                  { value: 'sha256', label: 'SHA-256' },
                  { value: 'blake2b', label: 'BLAKE2b' },
                ]}
                onPick={(value) => {
                  change({ copies: { ...copies, second_digest: value === 'none' ? null : value } })
                }}
              />
            </span>
            <span className="text-soft">
              checksums in the shoot’s folder{' '}
              <Pick
                label="Checksums in the shoot’s folder"
                value={copies.manifests ? 'yes' : 'no'}
                choices={[
                  { value: 'no', label: 'none' },
                  { value: 'yes', label: 'laid there' },
                ]}
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
        throw new Error(`${picked.name} is not JSON; nothing was taken from it.`)
      }
      return api.addStyle(document as Style)
    })
  }
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 pt-5 pb-2">
        <Heading>House style</Heading>
        <Pick
          label="Which style"
          value={style.name}
          choices={styles.styles.map((each) => ({
            value: each.name,
            label: each.name + (each.name === styles.standard ? ' (standard)' : ''),
          }))}
          onPick={onChoose}
        />
        <label className="flex items-baseline gap-2 text-soft">
          called
          <input
            aria-label="Name of the style"
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
              act.mutate(() => api.addStyle({ ...style, name: `${style.name}, changed` }))
            }}
          >
            New from this
          </button>
          {!isStandard && (
            <button
              type="button"
              className="link"
              onClick={() => {
                act.mutate(() => api.makeStandard(style.name))
              }}
            >
              Make it the standard
            </button>
          )}
          {!isStandard && (
            <Sure
              ask="Delete this style"
              says={`“${style.name}” is deleted for good. What was filed by it stays as it is.`}
              act="Delete it"
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
            Export
          </a>
          <button type="button" className="link" onClick={() => file.current?.click()}>
            Import
          </button>
          <input
            ref={file}
            type="file"
            accept="application/json,.json"
            aria-label="A style to import"
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
            label={`Folder, level ${i + 1}`}
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
              aria-label={`Remove level ${i + 1}`}
              onClick={() => {
                onChange(levels.filter((_, n) => n !== i))
              }}
            >
              Remove
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
          + a level above
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
    <section aria-label="Samples" className="mt-8">
      <h2 className="mb-3 text-[21px]">On the frames at hand</h2>
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
              <div className="text-soft">
                in {sample.folder}
                {sample.named ? '' : ' (an example name)'}
              </div>
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
    <section aria-label="Cameras" className="mt-8 max-w-[640px]">
      <h2 className="mb-2 text-[21px]">Cameras</h2>
      <p className="mb-2 text-[13px] text-soft">
        A short name for each body, for names that say the camera; without one its model stands there.
      </p>
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
        aria-label={`Short name of ${camera.camera}`}
        value={name}
        placeholder="short name"
        className="typed font-semibold placeholder:font-normal"
        onChange={(event) => {
          setName(event.target.value)
        }}
        onBlur={() => {
          if (name !== camera.name) save.mutate()
        }}
      />
      <span className="text-right text-[13px] text-soft">{camera.frames.toLocaleString('en')} frames</span>
    </div>
  )
}
