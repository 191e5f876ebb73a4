import { memo } from 'react'
import type { Entry, EntryChange } from '../../api/client'
import { DNG, type DngChoice } from '../../parts/dng'
import { KeywordField } from '../../parts/KeywordField'
import { Pick } from '../../parts/Pick'
import type { Whole } from './edits'
import { texts } from './texts'

const says = texts.entry
const OF_STYLE = says.ofStyle
const BY_STYLE = 'style'
const CHOICES = Object.keys(DNG) as DngChoice[]

interface Props {
  sheet: Whole
  entry: Entry
  onChange: (change: EntryChange) => void
}

/** @param keywords the entry's, as paths: as long as they are the same nothing of them is drawn anew */
export const EntryKeywords = memo(function EntryKeywords({
  number,
  keywords,
  onChange,
}: {
  number: number
  keywords: readonly string[]
  onChange: (change: EntryChange) => void
}) {
  return (
    <KeywordField
      label={says.keywords(number)}
      chips={keywords.map((path) => ({ path }))}
      onAdd={(paths) => {
        onChange({ add_keywords: paths })
      }}
      onRemove={(path) => {
        onChange({ remove_keywords: [path] })
      }}
    />
  )
})

/** Whose the frames are. */
export function EntryRights({ sheet, entry, onChange }: Props) {
  if (entry.owner === '' && sheet.rights_sets.length === 0) return null
  return (
    <span className="flex flex-wrap items-baseline gap-x-1.5">
      {entry.owner !== '' && <span className="wrap-anywhere">{entry.owner}</span>}
      {sheet.rights_sets.length > 0 && (
        <Pick
          label={says.rights(entry.number)}
          value={entry.rights === '' || entry.rights === undefined ? OF_STYLE : entry.rights}
          choices={[OF_STYLE, ...sheet.rights_sets].map((name) => ({ value: name, label: name }))}
          onPick={(name) => {
            onChange({ rights: name === OF_STYLE ? '' : name })
          }}
        />
      )}
    </span>
  )
}

/** Whether the raw files of an entry become DNG. */
export function EntryRaws({ sheet, entry, onChange }: Props) {
  if ((entry.raws ?? 0) === 0 || entry.counts.new === 0) return null
  return (
    <span className="flex items-baseline gap-x-1.5 whitespace-nowrap">
      {says.raws}
      <Pick
        label={says.rawsOf(entry.number)}
        value={entry.dng ?? BY_STYLE}
        choices={[
          { value: BY_STYLE, label: says.byStyle(DNG[sheet.dng]) },
          ...CHOICES.map((value) => ({ value, label: DNG[value] })),
        ]}
        onPick={(value) => {
          onChange({ dng: value === BY_STYLE ? '' : value })
        }}
      />
    </span>
  )
}
