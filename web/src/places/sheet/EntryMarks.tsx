import type { Entry, EntryChange, Sheet } from '../../api/client'
import { DNG, type DngChoice } from '../../parts/dng'
import { KeywordField } from '../../parts/KeywordField'
import { Pick } from '../../parts/Pick'

const OF_STYLE = 'as the house style says'
const BY_STYLE = 'style'
const CHOICES = Object.keys(DNG) as DngChoice[]

/** What is on an entry's frames, in one line: its keywords, and whose the frames are. */
export function EntryMarks({
  sheet,
  entry,
  onChange,
}: {
  sheet: Sheet
  entry: Entry
  onChange: (change: EntryChange) => void
}) {
  const keywords = entry.keywords ?? []
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[13px]">
      <div className="min-w-[60%] flex-1">
        <KeywordField
          label={`Keywords of entry ${entry.number}`}
          chips={keywords.map((path) => ({ path }))}
          onAdd={(paths) => {
            onChange({ add_keywords: paths })
          }}
          onRemove={(path) => {
            onChange({ remove_keywords: [path] })
          }}
        />
      </div>
      {(entry.owner !== '' || sheet.rights_sets.length > 0) && (
        <span className="flex flex-wrap items-baseline gap-x-2">
          {entry.owner !== '' && <span className="wrap-anywhere text-soft">{entry.owner}</span>}
          {sheet.rights_sets.length > 0 && (
            <Pick
              label={`Rights of entry ${entry.number}`}
              value={entry.rights === '' || entry.rights === undefined ? OF_STYLE : entry.rights}
              choices={[OF_STYLE, ...sheet.rights_sets].map((name) => ({ value: name, label: name }))}
              onPick={(name) => {
                onChange({ rights: name === OF_STYLE ? '' : name })
              }}
            />
          )}
        </span>
      )}
    </div>
  )
}

/** Whether the raw files of an entry become DNG. */
export function EntryRaws({
  sheet,
  entry,
  onChange,
}: {
  sheet: Sheet
  entry: Entry
  onChange: (change: EntryChange) => void
}) {
  if ((entry.raws ?? 0) === 0 || entry.counts.new === 0) return null
  return (
    <span className="flex items-baseline gap-x-1.5 text-[13px] whitespace-nowrap">
      <span className="text-soft">raw files</span>
      <Pick
        label={`Raw files of entry ${entry.number}`}
        value={entry.dng ?? BY_STYLE}
        choices={[
          { value: BY_STYLE, label: `${DNG[sheet.dng]}, by the style` },
          ...CHOICES.map((value) => ({ value, label: DNG[value] })),
        ]}
        onPick={(value) => {
          onChange({ dng: value === BY_STYLE ? '' : value })
        }}
      />
    </span>
  )
}
