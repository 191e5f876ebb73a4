import type { MetadataField, Style, StyleSample } from '../../api/client'
import { FIELDS, OF_FRAME } from '../../parts/fields'
import { FieldMenu } from '../../parts/FieldMenu'
import { KeywordField } from '../../parts/KeywordField'
import { Pick } from '../../parts/Pick'
import { PatternRow } from './PatternRow'
import { fresh } from './pieces'

type Rules = Style['metadata']

const FIRST: Partial<Record<MetadataField, Rules['texts'][number]['pieces']>> = {
  copyright: [
    { piece: 'text', text: '© ' },
    { piece: 'shot_time', format: 'yyyy' },
    { piece: 'text', text: ' ' },
  ],
  copyright_marked: [{ piece: 'text', text: 'true' }],
  headline: [fresh('shoot_name')],
  title: [fresh('shoot_name')],
  event: [fresh('shoot_name')],
  job_identifier: [fresh('original_name')],
}

/**
 * The texts that are written into every copy, each a row of chips that is filled for each frame; sets of them for
 * rights that differ; keywords.
 */
export function MetadataRule({ rules, onChange }: { rules: Rules; onChange: (rules: Rules) => void }) {
  return (
    <div className="grid gap-3">
      <Texts
        label="All"
        texts={rules.texts}
        onChange={(texts) => {
          onChange({ ...rules, texts })
        }}
      />
      {rules.rights.map((set, i) => (
        <section key={i} aria-label={`Rights set ${set.name}`} className="-ml-3.5 border-l-2 border-rule-strong pl-3">
          <div className="flex items-baseline gap-3">
            <input
              aria-label="Name of the rights set"
              value={set.name}
              onChange={(event) => {
                onChange({
                  ...rules,
                  rights: rules.rights.map((each, n) => (n === i ? { ...each, name: event.target.value } : each)),
                })
              }}
              className="serif h-7 w-[220px] typed text-[16px]"
            />
            <span className="text-[13px] text-soft">chosen for an entry, it stands over what is above</span>
            <button
              type="button"
              className="link ml-auto text-[13px]"
              aria-label={`Remove the rights set ${set.name}`}
              onClick={() => {
                onChange({ ...rules, rights: rules.rights.filter((_, n) => n !== i) })
              }}
            >
              Remove
            </button>
          </div>
          <Texts
            label={set.name}
            texts={set.texts}
            onChange={(texts) => {
              onChange({ ...rules, rights: rules.rights.map((each, n) => (n === i ? { ...each, texts } : each)) })
            }}
          />
        </section>
      ))}
      <button
        type="button"
        className="link justify-self-start text-[13px]"
        onClick={() => {
          onChange({
            ...rules,
            rights: [
              ...rules.rights,
              { name: nameFor(rules.rights), texts: [{ field: 'copyright', pieces: FIRST.copyright ?? [] }] },
            ],
          })
        }}
      >
        + a rights set, as for an agency or a client
      </button>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">Keywords</span>
        <KeywordField
          label="Keywords of the house style"
          chips={rules.keywords.map((path) => ({ path }))}
          onAdd={(paths) => {
            onChange({ ...rules, keywords: [...rules.keywords, ...paths] })
          }}
          onRemove={(path) => {
            onChange({ ...rules, keywords: rules.keywords.filter((each) => each !== path) })
          }}
          empty="for all frames"
        />
      </div>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">Sidecars</span>
        <span>
          <Pick
            label="Sidecars are called"
            value={rules.sidecars}
            choices={[
              { value: 'stem', label: 'name.xmp' },
              { value: 'whole', label: 'name.ext.xmp' },
            ]}
            onPick={(sidecars) => {
              onChange({ ...rules, sidecars })
            }}
          />
        </span>
      </div>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">Struck frames</span>
        <span>
          <Pick
            label="Files of struck frames"
            value={rules.writes_struck ? 'rejected' : 'nothing'}
            choices={[
              { value: 'nothing', label: 'their files do not say it' },
              { value: 'rejected', label: 'their files say rejected (rating −1)' },
            ]}
            onPick={(says) => {
              onChange({ ...rules, writes_struck: says === 'rejected' })
            }}
          />
        </span>
      </div>
    </div>
  )
}

/** A name that no set has yet. */
function nameFor(sets: Rules['rights']): string {
  const named = ['Agency', 'Client-owned'].find((name) => !sets.some((set) => set.name === name))
  return named ?? `Rights ${sets.length + 1}`
}

function Texts({
  label,
  texts,
  onChange,
}: {
  label: string
  texts: Rules['texts']
  onChange: (texts: Rules['texts']) => void
}) {
  const left = (Object.keys(FIELDS) as MetadataField[]).filter(
    (field) => !OF_FRAME.includes(field) && !texts.some((text) => text.field === field),
  )
  return (
    <div className="grid gap-1.5">
      {texts.map(({ field, pieces }, i) => (
        <div key={field} className="grid grid-cols-[150px_1fr_auto] items-baseline gap-x-3 max-sm:grid-cols-[1fr_auto]">
          <span className="text-soft">{FIELDS[field]}</span>
          <PatternRow
            label={label === 'All' ? FIELDS[field] : `${FIELDS[field]}, ${label}`}
            use="text"
            pieces={pieces}
            onChange={(changed) => {
              onChange(texts.map((each, n) => (n === i ? { field, pieces: changed } : each)))
            }}
          />
          <button
            type="button"
            className="link text-[13px]"
            aria-label={`Remove ${FIELDS[field]}${label === 'All' ? '' : ` of ${label}`}`}
            onClick={() => {
              onChange(texts.filter((_, n) => n !== i))
            }}
          >
            Remove
          </button>
        </div>
      ))}
      <FieldMenu
        fields={left}
        onAdd={(field) => {
          onChange([...texts, { field, pieces: FIRST[field] ?? [] }])
        }}
      />
    </div>
  )
}

/** What a frame's file will say, in one line. */
export function saidIn(sample: StyleSample | undefined): string | null {
  const said = sample?.says.texts
    .filter(({ field }) => !OF_FRAME.includes(field) && field !== 'copyright_marked')
    .map(({ text }) => text)
  return sample && said && said.length + sample.says.keywords.length > 0
    ? [...said, ...sample.says.keywords].join(' · ')
    : null
}
