import type { Card } from '../../api/client'
import { bytes, list, plural } from '../../parts/words'

/** What the page of the bays says. */
export const texts = {
  title: 'Bays',
  cards: (cards: number) => (cards === 0 ? 'no card is in' : `${plural(cards, 'card')} in`),
  cameraUnseen:
    'A camera is on a cable, but this computer does not show its card as a drive. Take the card out and put it into ' +
    'a reader: that is surer, and faster.',
  away: (card: { frames_read: number; frames: number }) =>
    `was taken out while it was being read, ${card.frames_read.toLocaleString('en')} of ` +
    `${plural(card.frames, 'frame')} in. Put it in again and the reading goes on from there.`,
  none: {
    title: 'Put a card into its reader',
    about:
      'It appears here by itself. A camera on a cable does so, too, where this computer shows it as a drive; a ' +
      'reader is surer, and faster. Watched now:',
  },
  card: {
    label: (card: string) => `Card ${card}`,
    undated: 'no dates',
    together: (card: string) => `${card} together with another card`,
    combine: 'Combine',
    oneSheet: (cards: string[]) => `Open one sheet for ${list(cards)}`,
    eject: 'Eject',
    frames: 'frames',
    beside: (card: Card) =>
      card.capacity ? `of ${bytes(card.capacity)}` : card.days > 0 ? `on ${plural(card.days, 'day')}` : '',
    intake: 'See intake',
    sheet: 'Open sheet',
    reading: (card: Card) => `Reading, ${card.frames_read.toLocaleString('en')} of ${plural(card.frames, 'frame')}`,
    readingLabel: (card: string) => `Reading ${card}`,
    unreadable: 'Cannot be read',
    nothingNew: 'Nothing new',
    fresh: (frames: number) => `${frames.toLocaleString('en')} new`,
    allFiled: (frames: number) => `${plural(frames, 'frame')} filed`,
    someFiled: (frames: number) => `${frames.toLocaleString('en')} already filed`,
    noneFiled: 'none filed yet',
  },
  tray: { label: 'Demo tray', cards: 'Demo cards on the table:', putIn: 'Put in' },
  shelves: {
    title: 'Shelves',
    add: 'Add a shelf',
    none:
      'No shelf is known yet. A shelf is a folder that shoots are filed under; its twin is the same on another ' +
      'drive.',
    change: 'Change',
    changeOf: (shelf: string) => `Change ${shelf}`,
    twin: 'its twin',
    sameDrive: 'on the same drive as its shelf: no second place if the drive fails',
    away: 'not connected',
    readOnly: 'cannot be written to',
    free: 'free',
    full: (share: number) => `${Math.round(share * 100)} % full`,
  },
  form: {
    label: (shelf: string) => `Shelf ${shelf}`,
    fresh: 'A new shelf',
    called: 'called',
    name: 'Name of the shelf',
    folder: 'The shelf’s folder',
    noTwin: 'No twin: there will be one copy only, and no card can be cleared by it.',
    addTwin: 'Give it a twin',
    twinsFolder: 'Its twin’s folder, best on another drive',
    withoutTwin: 'No twin',
    save: 'Save',
    add: 'Add this shelf',
    cancel: 'Cancel',
    readOnly: 'cannot be written to; ',
    free: (free: number) => `${bytes(free)} free`,
    foldersIn: (path: string) => `Folders in ${path}`,
    up: (path: string) => `↑ up to ${path}`,
    noFolders: 'no folders within',
  },
}
