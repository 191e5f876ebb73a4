import type { Ledger } from '../../api/client'
import { bytes, duration, list, plural } from '../../parts/words'

type Act = Ledger['acts'][number]

const frames = (act: Act) =>
  `${plural(act.frames ?? 0, 'frame')} (${plural(act.files ?? 0, 'file')}, ${bytes(act.bytes ?? 0)})`

/** What the page of the ledger says. */
export const texts = {
  title: 'Ledger',
  count: (intakes: number) => plural(intakes, 'intake'),
  intact: (lines: number) => `✓ ${plural(lines, 'line')}, hash chain intact`,
  laterLines: (at: string) => `${at}; later lines just now`,
  lacks: (intakes: number[]) =>
    `The ledger lacks its last lines: the receipt of intake ${intakes.join(', ')} has a seal that no line has. No ` +
    `picture was touched. Compare with a backup of the database.`,
  broken: (line: number, sound: number) =>
    `Line ${line} of the ledger does not fit the line before it: it was changed from outside. Before it ` +
    `${plural(sound, 'line')} are sound, and no picture was touched. Compare with a backup of the database.`,
  none: {
    title: 'Nothing is entered yet',
    about: 'Each intake leaves its receipt here: every frame, where from, where to, with its checksum.',
  },
  intake: {
    label: (intake: number) => `Intake ${intake}`,
    cards: (cards: string[]) => `card ${cards.join(', ')}`,
    undated: 'undated',
    nothing: 'nothing was filed',
    frames: 'frames filed',
    took: (seconds: number) => `in ${duration(seconds)}`,
    receipt: 'Receipt',
    underWay: 'See it under way',
    states: { waiting: 'about to start', running: 'under way', paused: 'paused', stopped: 'stopped', done: '' },
    failed: (files: number) => `${files} failed`,
    skipped: (frames: number) => `${frames} skipped`,
  },
  backup: {
    label: 'Backup of the ledger',
    none: ['There is no backup of the ledger yet.', 'One is made after each intake.'],
    last: (ago: string) => `Last backup ${ago}`,
    of: (at: string, size: number) => `· ${at}, ${bytes(size)}, restored for a trial and compared`,
    in: (path: string, beside: string[]) =>
      `In ${path}${beside.length > 0 ? ` and beside the pictures in ${list(beside)}` : ''}.`,
    notIn: (places: string[]) => `Not in ${list(places)}: not connected, or not to be written to.`,
    underWay: 'Backing up…',
    make: 'Back up now',
    failed: (at: string | null, why: string) => `The backup of ${at ?? 'late'} came to nothing: ${why}`,
  },
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
