import type { PassFrame, PassGroup, Verdict } from '../../api/client'
import type { Tab, TabWriting } from '../../api/tabs'
import type { Narrow } from '../../model/narrow'
import type { Counts, Filter } from '../../model/pass'
import { list, plural } from '../../parts/words'

/** All that the first look says. */
export const texts = {
  title: (of: string) => `First look: ${of}`,
  titleBefore: 'First look:',
  tape: 'Tape of the pass',
  verdict: 'Verdict',
  stars: 'Stars',
  intake: (cards: readonly string[]) => `From ${list(cards)}`,
  several: (searched: string, shoots: number) =>
    searched === '' ? plural(shoots, 'shoot') : `“${searched}”, ${plural(shoots, 'shoot')}`,
  back: {
    shoot: { word: 'Shoots', label: 'Back to the shoot' },
    sheet: { word: 'Receipt', label: 'Back to the receipt' },
    shoots: { word: 'Shoots', label: 'Back to the shoots' },
  },
  through: 'First look at',
  filters: (counts: Counts): Record<Filter, string> => ({
    every: 'every frame',
    open: `what is open (${counts.open.toLocaleString('en')})`,
    kept: `the kept, again (${counts.kept.toLocaleString('en')})`,
    struck: `the struck, again (${counts.struck.toLocaleString('en')})`,
    starred: `frames with stars (${counts.starred.toLocaleString('en')})`,
  }),
  judged: ({ kept, struck, open }: Counts) =>
    `${(kept + struck).toLocaleString('en')} of ${(kept + struck + open).toLocaleString('en')} judged`,
  setAside: 'set the struck aside',
  done: (counts: Counts) =>
    `Every frame is judged: ${counts.kept.toLocaleString('en')} kept, ${counts.struck.toLocaleString('en')} struck.`,
  nothing: {
    open: 'No frame is open: all of them are judged.',
    kept: 'No frame is kept yet.',
    struck: 'No frame is struck.',
    starred: 'No frame has stars.',
    every: 'There are no frames in this shoot.',
  } satisfies Record<Filter, string>,
  who: {
    label: 'Judging as',
    said: (name: string | null) => (name === null ? 'say who judges' : `judging as ${name}`),
    judged: (by: string) => `judged by ${by}`,
  },
  mark: ({ by, verdict, stars }: PassFrame['beside'][number]) =>
    `${by}: ${verdict}${stars ? `, ${plural(stars, 'star')}` : ''}`,
  takeOver: 'take over',
  takeOverAll: (frames: number) => `take over ${plural(frames, 'verdict')}`,
  narrow: 'only some of them',
  widen: 'all of them',
  allAlike: 'The frames differ in nothing by which they could be told apart.',
  narrowed: (frames: number) => plural(frames, 'frame'),
  narrows: {
    tab: { label: 'Tab', any: 'any tab or none', of: String },
    mark: { label: 'Another’s word', any: 'whatever others say', of: (value: string) => `${value} says otherwise` },
    hint: { label: 'How they look', any: 'however they look', of: (value: string) => `looks ${value}` },
    stars: {
      label: 'Stars',
      any: 'any stars',
      of: (value: string) => (value === '5' ? '5 stars' : `${plural(Number(value), 'star')} or more`),
    },
    kind: { label: 'Kind', any: 'any kind', of: String },
    camera: { label: 'Camera', any: 'any camera', of: String },
    lens: { label: 'Lens', any: 'any lens', of: String },
    hour: { label: 'Hour', any: 'any hour', of: (value: string) => hour(Number(value)) },
    keyword: { label: 'Keyword', any: 'any keyword', of: String },
  } satisfies Record<Narrow, { label: string; any: string; of: (value: string) => string }>,
  closer: '1:1',
  besides: 'Frames beside each other',
  besidesChoices: ['one frame', 'two side by side', 'three side by side', 'four at once'].map((label, n) => ({
    value: String(n + 1),
    label,
  })),
  atHand: '(at hand)',
  light: 'histogram',
  measuring: 'measuring…',
  goesOn: 'go on to the next open frame',
  folds: 'fold groups',
  asOne: (frames: number, group: PassGroup, counts: Counts) => {
    const judged = (['kept', 'struck', 'open'] as const).filter((verdict) => counts[verdict] > 0)
    const mixed = judged.map((verdict) => `${counts[verdict]} ${verdict}`).join(', ')
    return `${frames} ${texts.groups[group.kind]}${judged.length > 1 ? `: ${mixed}` : ', judged as one'}`
  },
  open: 'open them',
  close: 'fold them',
  verdicts: { kept: 'Keep', struck: 'Strike', open: 'Open' } satisfies Record<Verdict, string>,
  groups: {
    burst: 'in a burst',
    alike: 'that look alike',
    bracket: 'in a bracket',
    time_lapse: 'in a time-lapse',
  } satisfies Record<PassGroup['kind'], string>,
  inGroup: (n: number, group: PassGroup) => `${ordinal(n + 1)} of ${group.frames.length} ${texts.groups[group.kind]}`,
  sharpest: 'the sharpest',
  toSharpest: (n: number) => `the ${ordinal(n + 1)} is the sharpest`,
  keepThis: (others: number) => `keep this, strike the ${others === 1 ? 'other' : `other ${others}`}`,
  keepAll: 'keep them all',
  strikeAll: 'strike them all',
  tabs: {
    button: 'Tab',
    title: 'Tabs',
    of: (names: readonly string[]) => `Tabs: ${names.join(', ')}`,
    none: 'A tab marks a kind or a series of frames, in a name and colour of your own.',
    group: (frames: number) => `Shift: all ${frames} of the group`,
    make: 'New tab',
    edit: (name: string) => `Edit ${name}`,
    name: 'Name',
    colour: 'Colour',
    nextColour: 'chosen for you',
    writes: 'Written to the files',
    writing: { nothing: 'no', keyword: 'as a keyword', label: 'as the label' } satisfies Record<TabWriting, string>,
    save: 'Save',
    cancel: 'Cancel',
    remove: 'Delete',
    removing: ({ name, frames, writes }: Tab) =>
      `Delete “${name}”? ` +
      (frames === 0
        ? 'No frame has it.'
        : `${plural(frames, 'frame')} ${frames === 1 ? 'loses' : 'lose'} it${
            writes === 'nothing' ? '' : `, and the ${writes} that it wrote`
          }.`),
  },
  left: (open: number) => (open === 0 ? null : `${plural(open, 'frame')} still open`),
}

/** As `2 May, 19:00 to 20:00`; seconds on the wall clock. */
function hour(seconds: number): string {
  const at = (each: number) => new Date(each * 1000).toISOString().slice(11, 16)
  const day = new Date(seconds * 1000).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })
  return `${day}, ${at(seconds)} to ${at(seconds + 3600)}`
}

/** 1st, 2nd, 3rd, 11th. */
function ordinal(n: number): string {
  const endings: Partial<Record<Intl.LDMLPluralRule, string>> = { one: 'st', two: 'nd', few: 'rd' }
  return `${n}${endings[new Intl.PluralRules('en', { type: 'ordinal' }).select(n)] ?? 'th'}`
}
