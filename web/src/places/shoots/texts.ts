import type { AsideSum } from '../../api/aside'
import type { CustodyLine } from '../../api/client'
import { bytes, list, plural } from '../../parts/words'

/** What the pages of the shoots say, and of frames that are set aside. */
export const texts = {
  all: {
    title: 'Shoots',
    filed: (shoots: number) => `${plural(shoots, 'shoot')} filed`,
    search: 'Search the shoots',
    searchHint: 'Name, folder or date',
    none: {
      title: 'Nothing is filed yet',
      about: ['Open a card’s sheet in the', 'bays', ', name its shoots and copy them; they stand here from then on.'],
    },
    notFound: (words: string) => `No shoot has “${words}” in its name, folder or date.`,
    undatedYear: 'Undated',
    undated: 'undated',
    found: (shoots: number) => `${plural(shoots, 'shoot')} found`,
    lookAtAll: 'First look at all of them',
    open: (frames: number) => (frames === 0 ? 'every frame is judged' : `${plural(frames, 'frame')} open`),
    framesOf: (open: number, all: number) =>
      open > 0 && open < all ? `frames, ${open.toLocaleString('en')}\u00A0open` : 'frames',
    oneDrive: 'in two places, on one drive',
    twoPlaces: '✓ verified in two places',
    notInTwo: (frames: number) => `${plural(frames, 'frame')} not in two places that are connected`,
  },
  shoot: {
    size: (frames: number, size: number) => `${plural(frames, 'frame')}, ${bytes(size)}`,
    writing: (files: number) => `writing into ${plural(files, 'file')}`,
    firstLook: (open: number) => (open === 0 ? 'First look: all judged' : `First look: ${plural(open, 'frame')} open`),
    contactSheet: (shoot: string) => `Contact sheet of ${shoot}`,
    play: (frames: number) => (frames > 1 ? `Play ${plural(frames, 'frame')}` : 'Play as a movie'),
    frames: (shoot: string) => `Frames of ${shoot}`,
    rotate: 'Rotate',
  },
  outside: {
    label: 'Changed by another program',
    changed: (files: number) => `${plural(files, 'file')} changed outside.`,
    about: (files: number) =>
      `Another program wrote into ${files === 1 ? 'it' : 'them'} since; until you choose, nothing of yours is ` +
      `written there.`,
    seeBoth: 'See both',
    close: 'Close',
    theirs: 'Use the other version',
    theirsForAll: 'Use the other version, for all',
    ours: 'Keep mine',
    oursForAll: 'Keep mine, for all',
    putBack: 'Put mine back',
    on: (place: string) => `on the ${place}`,
    picture: 'its picture was changed, too',
    head: ['Field', 'mine', 'other version'],
    keywords: 'Keywords',
    rating: 'Rating',
    rejected: 'rejected',
    none: 'none',
    empty: '–',
  },
  selection: {
    label: 'What the frames say',
    none: 'Nothing is selected. Select frames to give them keywords, a rating or texts.',
    all: (frames: number) => `Select all ${plural(frames, 'frame')}`,
    undo: (what: string) => `Undo ${what}`,
    same: (files: number) => ` The same holds for ${plural(files, 'more file')}.`,
    count: (frames: number) => `${plural(frames, 'frame')} selected`,
    keywords: 'Keywords of the selected frames',
    rating: 'rating',
    ratingLabel: 'Rating',
    several: 'several',
    noRating: 'none',
    marked: 'yes',
    publicDomain: 'no, in the public domain',
    forAll: (said: number, of: number) =>
      `${said < of ? `said by ${said} of ${of}` : 'several'}; what is typed here holds for all`,
    open: 'All fields',
    close: 'Close all fields',
    nothing: 'Select nothing',
  },
  raws: {
    beside: (files: number) => ({ label: `DNG beside ${plural(files, 'raw file')}`, about: 'both are kept' }),
    embed: { label: 'DNG instead, keep the camera file within', about: 'it can be restored, bit for bit' },
    restore: (files: number) => ({
      label: `Restore the camera file from ${plural(files, 'DNG')}`,
      about: 'it lies beside the DNG, which stays',
    }),
    underWay: (files: number) => `${plural(files, 'raw file')} under way`,
    same: (files: number) => ` The same holds for ${files} more.`,
    menu: 'Raw and DNG',
  },
  custody: {
    show: 'Custody',
    hide: 'Hide custody',
    said,
  },
  title: 'Set aside',
  titleOf: (shoot: string) => `Set aside: ${shoot}`,
  back: 'Shoots',
  moving: (files: number) => `Moving ${plural(files, 'file')}…`,
  size: (sum: AsideSum) => `${plural(sum.files, 'file')}, ${bytes(sum.bytes)}`,
  struck: {
    title: (frames: number) => `${plural(frames, 'struck frame')} still in the shoot`,
    label: 'Struck frames',
    about: (folder: string, places: number) =>
      `They move to “${folder}”, beside the shoot${places > 1 ? `, in each of ${places} places` : ''}. Nothing is ` +
      `deleted, and each can be brought back.`,
    act: (frames: number) => `Set ${plural(frames, 'frame')} aside`,
  },
  set_aside: {
    title: (frames: number) => `${plural(frames, 'frame')} set aside`,
    label: 'Frames that are set aside',
    act: (frames: number, isAll: boolean) => `Bring ${isAll ? 'all ' : ''}${plural(frames, 'frame')} back`,
    ask: 'Throw them away…',
    says: (sum: AsideSum) =>
      `Move ${plural(sum.frames, 'frame')} (${plural(sum.files, 'file')}, ${bytes(sum.bytes)}) to the trash, a ` +
      `folder with today’s date on the same drives? They can be brought back from there.`,
    sure: 'Throw them away',
    forget: 'Forget them…',
    forgetSays: (sum: AsideSum) =>
      `Leave ${plural(sum.files, 'file')} where they are, and no longer show or check these ` +
      `${plural(sum.frames, 'frame')}? This cannot be undone.`,
    forgetSure: 'Forget them',
  },
  in_trash: {
    title: (frames: number) => `${plural(frames, 'frame')} in the trash`,
    label: 'Frames in the trash',
    act: (frames: number, isAll: boolean) => `Bring ${isAll ? 'all ' : ''}${plural(frames, 'frame')} back`,
    ask: 'Delete them for good…',
    says: (sum: AsideSum, places: number) =>
      `Delete ${plural(sum.frames, 'frame')} (${plural(sum.files, 'file')}, ${bytes(sum.bytes)})` +
      `${places > 1 ? `, in each of ${places} places` : ''}? This cannot be undone.`,
    sure: (sum: AsideSum) => `Delete ${plural(sum.files, 'file')}`,
  },
  nothing: {
    title: 'Nothing is set aside',
    about:
      'Frames that you strike in the first look can be set aside here: their files leave the shoot and are kept ' +
      'beside it.',
    way: 'To the first look',
  },
  /** Beside a shoot. */
  toStruck: (frames: number) => `Set ${plural(frames, 'struck frame')} aside`,
  toAside: (frames: number) => `See ${plural(frames, 'frame')} set aside`,
}

/** A line of the ledger on one frame, as a sentence. */
function said(line: CustodyLine): string {
  const from = `${line.from ?? ''} on ${line.card ?? 'a card'}`
  const digest = line.digest ?? ''
  const places = list(line.to)
  switch (line.event) {
    case 'file_filed':
      return `${from} was copied and verified: ${places}, ${digest} (intake ${line.intake ?? ''})`
    case 'file_repaired':
      return `${line.file} was repaired from ${from}: ${places}, ${digest} (intake ${line.intake ?? ''})`
    case 'file_same':
      return `${from} was read to its end and is the same, ${digest} (intake ${line.intake ?? ''})`
    case 'file_failed':
      return `${from} could not be copied (intake ${line.intake ?? ''})`
    case 'metadata_written':
      return `What the frame says was written into ${line.file}, its picture untouched: ${digest}`
    case 'sidecar_written':
      return `What the frame says was written beside ${line.file}: ${places}, ${digest}`
    case 'metadata_refused':
      return `${line.file} could not be written into and stayed as it was`
    case 'dng_made':
      return `DNG was made of the raw file, every pixel value the same: ${places}, ${digest}`
    case 'dng_refused':
      return 'The raw file was not converted and stayed as it was'
    case 'raw_left':
      return `Its DNG took the place of the raw file, ${digest}`
    case 'raw_taken_out':
      return `The raw file was taken out of the DNG, bit for bit: ${places}, ${digest}`
    case 'outside_taken':
      return `What another program wrote was taken: ${places}, ${digest}`
    case 'outside_overruled':
      return `Another program had written into it; what the frame says was kept: ${places}, ${digest}`
    case 'outside_put_back':
      return `Another program had changed its picture; it was put back from the other copy: ${places}, ${digest}`
    case 'file_set_aside':
      return `It was set aside: ${places}`
    case 'file_brought_back':
      return `It was brought back: ${places}`
    case 'file_thrown_away':
      return `It was thrown away: ${places}`
    case 'file_deleted':
      return `${line.file} was deleted for good, ${digest}`
    case 'file_forgotten':
      return `${line.file} was left where it lay, and is not looked after any more`
    case 'checked':
      return `${line.file} was read again from every drive and is as it was filed`
    case 'found_damaged':
      return `${line.file} was found missing or changed in ${places}`
  }
}
