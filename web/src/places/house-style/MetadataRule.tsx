import type { MetadataField, Style, StyleSample } from '../../api/client'
import { FIELDS, OF_FRAME } from '../../parts/fields'
import { FieldMenu } from '../../parts/FieldMenu'
import { KeywordField } from '../../parts/KeywordField'
import { choicesOf } from '../../parts/choices'
import { Pick } from '../../parts/Pick'
import { PatternRow } from './PatternRow'
import { fresh } from './pieces'
import { texts } from './texts'

type Rules = Style['metadata']

const says = texts.metadata

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
        all={rules.texts}
        onChange={(texts) => {
          onChange({ ...rules, texts })
        }}
      />
      {rules.rights.map((set, i) => (
        <section key={i} aria-label={says.set(set.name)} className="-ml-3.5 border-l-2 border-rule-strong pl-3">
          <div className="flex items-baseline gap-3">
            <input
              aria-label={says.setName}
              value={set.name}
              onChange={(event) => {
                onChange({
                  ...rules,
                  rights: rules.rights.map((each, n) => (n === i ? { ...each, name: event.target.value } : each)),
                })
              }}
              className="serif h-7 w-[220px] typed text-[16px]"
            />
            <span className="text-[13px] text-soft">{says.setAbout}</span>
            <button
              type="button"
              className="link ml-auto text-[13px]"
              aria-label={says.removeSet(set.name)}
              onClick={() => {
                onChange({ ...rules, rights: rules.rights.filter((_, n) => n !== i) })
              }}
            >
              {says.remove}
            </button>
          </div>
          <Texts
            set={set.name}
            all={set.texts}
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
        {says.addSet}
      </button>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">{says.keywords}</span>
        <KeywordField
          label={says.keywordsLabel}
          chips={rules.keywords.map((path) => ({ path }))}
          onAdd={(paths) => {
            onChange({ ...rules, keywords: [...rules.keywords, ...paths] })
          }}
          onRemove={(path) => {
            onChange({ ...rules, keywords: rules.keywords.filter((each) => each !== path) })
          }}
          empty={says.noKeywords}
        />
      </div>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">{says.sidecars}</span>
        <span>
          <Pick
            label={says.sidecarsLabel}
            value={rules.sidecars}
            choices={choicesOf(says.sidecarNames)}
            onPick={(sidecars) => {
              onChange({ ...rules, sidecars })
            }}
          />
        </span>
      </div>
      <div className="grid grid-cols-[150px_1fr] items-baseline gap-x-3 max-sm:grid-cols-1">
        <span className="text-soft">{says.struck}</span>
        <span>
          <Pick
            label={says.struckLabel}
            value={rules.writes_struck ? 'rejected' : 'nothing'}
            choices={choicesOf(says.struckSay)}
            onPick={(written) => {
              onChange({ ...rules, writes_struck: written === 'rejected' })
            }}
          />
        </span>
      </div>
    </div>
  )
}

/** A name that no set has yet. */
function nameFor(sets: Rules['rights']): string {
  const named = says.setNames.find((name) => !sets.some((set) => set.name === name))
  return named ?? says.setNumber(sets.length + 1)
}

/** @param set of rights that they are of; for all frames where there is none */
function Texts({
  set,
  all,
  onChange,
}: {
  set?: string
  all: Rules['texts']
  onChange: (texts: Rules['texts']) => void
}) {
  const left = (Object.keys(FIELDS) as MetadataField[]).filter(
    (field) => !OF_FRAME.includes(field) && !all.some((text) => text.field === field),
  )
  return (
    <div className="grid gap-1.5">
      {all.map(({ field, pieces }, i) => (
        <div key={field} className="grid grid-cols-[150px_1fr_auto] items-baseline gap-x-3 max-sm:grid-cols-[1fr_auto]">
          <span className="text-soft">{FIELDS[field]}</span>
          <PatternRow
            label={set === undefined ? FIELDS[field] : says.fieldOf(FIELDS[field], set)}
            use="text"
            pieces={pieces}
            onChange={(changed) => {
              onChange(all.map((each, n) => (n === i ? { field, pieces: changed } : each)))
            }}
          />
          <button
            type="button"
            className="link text-[13px]"
            aria-label={set === undefined ? says.removeField(FIELDS[field]) : says.removeFieldOf(FIELDS[field], set)}
            onClick={() => {
              onChange(all.filter((_, n) => n !== i))
            }}
          >
            {says.remove}
          </button>
        </div>
      ))}
      <FieldMenu
        fields={left}
        onAdd={(field) => {
          onChange([...all, { field, pieces: FIRST[field] ?? [] }])
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
