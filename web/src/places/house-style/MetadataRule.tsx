import { DropdownMenu } from 'radix-ui'
import type { MetadataField, Style, StyleSample } from '../../api/client'
import { FIELDS } from '../../parts/fields'
import { PatternRow } from './PatternRow'
import { fresh } from './pieces'

type Rules = Style['metadata']

const FIRST: Partial<Record<MetadataField, Rules['texts'][number]['pieces']>> = {
  copyright: [{ piece: 'text', text: '© ' }, { piece: 'shot_time', format: 'yyyy' }, { piece: 'text', text: ' ' }],
  copyright_marked: [{ piece: 'text', text: 'true' }],
  headline: [fresh('shoot_name')],
  title: [fresh('shoot_name')],
  event: [fresh('shoot_name')],
  job_identifier: [fresh('original_name')],
}

/** Facts of each frame, which no style says. */
const OF_FRAME: MetadataField[] = ['preserved_file_name', 'date_created']

/** The texts that are written into every copy, each a row of chips that is filled for each frame. */
export function MetadataRule({ rules, onChange }: { rules: Rules; onChange: (rules: Rules) => void }) {
  const { texts } = rules
  const left = (Object.keys(FIELDS) as MetadataField[]).filter((field) => !OF_FRAME.includes(field) && !texts.some((text) => text.field === field))
  return (
    <div className="grid gap-1.5">
      {texts.map(({ field, pieces }, i) => (
        <div key={field} className="grid grid-cols-[150px_1fr_auto] items-baseline gap-x-3">
          <span className="text-soft">{FIELDS[field]}</span>
          <PatternRow label={FIELDS[field]} use="text" pieces={pieces} onChange={(changed) => { onChange({ ...rules, texts: texts.map((each, n) => (n === i ? { field, pieces: changed } : each)) }) }} />
          <button type="button" className="link text-[13px]" aria-label={`Take away ${FIELDS[field]}`} onClick={() => { onChange({ ...rules, texts: texts.filter((_, n) => n !== i) }) }}>less</button>
        </div>
      ))}
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="link justify-self-start text-[13px]">+ a field</DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" sideOffset={4} className="z-40 max-h-[50vh] min-w-[240px] overflow-y-auto border border-rule-strong bg-leaf p-1.5 shadow-(--shadow)">
            {left.map((field) => (
              <DropdownMenu.Item key={field} className="flex min-h-8 cursor-pointer items-center px-2.5 outline-none data-[highlighted]:bg-velvet-wash" onSelect={() => { onChange({ ...rules, texts: [...texts, { field, pieces: FIRST[field] ?? [] }] }) }}>
                {FIELDS[field]}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  )
}

/** What a frame's file will say, in one line. */
export function saidIn(sample: StyleSample | undefined): string | null {
  const said = sample?.says.texts.filter(({ field }) => !OF_FRAME.includes(field) && field !== 'copyright_marked').map(({ text }) => text)
  return sample && said && said.length + sample.says.keywords.length > 0 ? [...said, ...sample.says.keywords].join(' · ') : null
}
