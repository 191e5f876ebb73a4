import type { Pass, PassFrame } from '../../api/client'
import type { Tab } from '../../api/tabs'
import { choicesOf, NARROWS, type Narrow, type Narrowing } from '../../model/narrow'
import { Pick } from '../../parts/Pick'
import { texts } from './texts'

const ANY = 'any'

interface Props {
  pass: Pass
  /** That the pass would go through if it were not narrowed. */
  frames: readonly PassFrame[]
  tabs: readonly Tab[]
  narrowing: Narrowing
  count: number
  onNarrow: (by: Narrow, value: string | null) => void
  /** Frames of the pass whose verdict is another than that of whose word it is narrowed by. */
  others: number
  onTakeOver: () => void
}

/** Narrows the pass by what its frames differ in; each choice says how many it would leave. */
export function NarrowRow({ pass, frames, tabs, narrowing, count, onNarrow, others, onTakeOver }: Props) {
  const named = (by: Narrow, value: string) =>
    by === 'tab' ? (tabs.find(({ id }) => String(id) === value)?.name ?? '') : texts.narrows[by].of(value)
  const offered = NARROWS.map((by) => ({ by, choices: choicesOf(pass.facets, frames, narrowing, by) })).filter(
    ({ by, choices }) => choices.length > 0 || narrowing[by] !== undefined,
  )
  const isNarrowed = Object.keys(narrowing).length > 0
  return (
    <div
      role="group"
      aria-label={texts.narrow}
      className="desk page flex flex-wrap items-baseline gap-x-5 gap-y-0.5 border-b border-desk-rule py-1 text-[13px]"
    >
      {offered.length === 0 && <span className="text-desk-soft">{texts.allAlike}</span>}
      {offered.map(({ by, choices }) => (
        <Pick
          key={by}
          label={texts.narrows[by].label}
          value={narrowing[by] ?? ANY}
          choices={[
            { value: ANY, label: texts.narrows[by].any },
            ...choices.map(({ value, frames }) => ({
              value,
              label: `${named(by, value)} (${frames.toLocaleString('en')})`,
            })),
          ]}
          onPick={(value) => {
            onNarrow(by, value === ANY ? null : value)
          }}
        />
      ))}
      {narrowing.mark !== undefined && others > 0 && (
        <button type="button" className="link font-semibold text-desk-ink" onClick={onTakeOver}>
          {texts.takeOverAll(others)}
        </button>
      )}
      {isNarrowed && <span className="ml-auto text-desk-soft">{texts.narrowed(count)}</span>}
    </div>
  )
}
