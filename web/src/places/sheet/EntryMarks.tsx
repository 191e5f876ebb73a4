import type { Entry, EntryChange, Sheet } from '../../api/client'
import { KeywordField } from '../../parts/KeywordField'
import { Pick } from '../../parts/Pick'

const OF_STYLE = 'as the house style says'

/** What is on an entry's frames, in one line: its keywords, and whose the frames are. */
export function EntryMarks({ sheet, entry, onChange }: { sheet: Sheet; entry: Entry; onChange: (change: EntryChange) => void }) {
  const keywords = entry.keywords ?? []
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[13px]">
      <div className="min-w-[60%] flex-1">
        <KeywordField
          label={`Keywords of entry ${entry.number}`}
          chips={keywords.map((path) => ({ path }))}
          onAdd={(paths) => { onChange({ add_keywords: paths }) }}
          onRemove={(path) => { onChange({ remove_keywords: [path] }) }}
        />
      </div>
      <span className="flex flex-wrap items-baseline gap-x-2">
        {entry.owner !== '' && <span className="wrap-anywhere text-soft">{entry.owner}</span>}
        {sheet.rights_sets.length > 0 && (
          <Pick
            label={`Rights of entry ${entry.number}`}
            value={entry.rights === '' || entry.rights === undefined ? OF_STYLE : entry.rights}
            choices={[OF_STYLE, ...sheet.rights_sets].map((name) => ({ value: name, label: name }))}
            onPick={(name) => { onChange({ rights: name === OF_STYLE ? '' : name }) }}
          />
        )}
      </span>
    </div>
  )
}
