import type { Ledger } from '../../api/client'
import { bytes, plural } from '../../parts/words'

type Act = Ledger['acts'][number]

const frames = (act: Act) =>
  `${plural(act.frames ?? 0, 'frame')} (${plural(act.files ?? 0, 'file')}, ${bytes(act.bytes ?? 0)})`

/** What the ledger's page says of acts beside the intakes. */
export const texts = {
  everything: 'Everything filed',
  acts: {
    checked: ({ files, good }) =>
      files === good
        ? `${plural(files ?? 0, 'copy', 'copies')} read again, all as they were filed`
        : `${plural(files ?? 0, 'copy', 'copies')} read again, ${(good ?? 0).toLocaleString('en')} as they were filed`,
    set_aside: (act) => `${frames(act)} set aside`,
    brought_back: (act) => `${frames(act)} brought back`,
    thrown_away: (act) => `${frames(act)} thrown away`,
    deleted: (act) => `${frames(act)} deleted for good`,
    forgotten: (act) => `${frames(act)} forgotten, left where they lie`,
  } satisfies Record<Act['event'], (act: Act) => string>,
}
