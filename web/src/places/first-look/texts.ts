import type { PassGroup, Verdict } from '../../api/client'
import type { Counts, Filter } from '../../model/pass'
import { plural } from '../../parts/words'

/** All that the first look says. */
export const texts = {
  title: (shoot: string) => `First look: ${shoot}`,
  back: 'Back to the shoot',
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
  done: (counts: Counts) =>
    `Every frame is judged: ${counts.kept.toLocaleString('en')} kept, ${counts.struck.toLocaleString('en')} struck.`,
  nothing: {
    open: 'No frame is open: all of them are judged.',
    kept: 'No frame is kept yet.',
    struck: 'No frame is struck.',
    starred: 'No frame has stars.',
    every: 'There are no frames in this shoot.',
  } satisfies Record<Filter, string>,
  closer: '1:1',
  allOfIt: 'whole picture',
  goesOn: 'go on to the next open frame',
  verdicts: { kept: 'Keep', struck: 'Strike', open: 'Open' } satisfies Record<Verdict, string>,
  groups: { burst: 'burst', bracket: 'bracket', time_lapse: 'time-lapse' } satisfies Record<PassGroup['kind'], string>,
  inGroup: (n: number, group: PassGroup) =>
    `${ordinal(n + 1)} of ${group.frames.length} in a ${texts.groups[group.kind]}`,
  sharpest: 'the sharpest',
  toSharpest: (n: number) => `the ${ordinal(n + 1)} is the sharpest`,
  keepThis: (others: number) => `keep this, strike the ${others === 1 ? 'other' : `other ${others}`}`,
  keepAll: 'keep them all',
  strikeAll: 'strike them all',
  left: (open: number) => (open === 0 ? null : `${plural(open, 'frame')} still open`),
}

/** 1st, 2nd, 3rd, 11th. */
function ordinal(n: number): string {
  const endings: Partial<Record<Intl.LDMLPluralRule, string>> = { one: 'st', two: 'nd', few: 'rd' }
  return `${n}${endings[new Intl.PluralRules('en', { type: 'ordinal' }).select(n)] ?? 'th'}`
}
