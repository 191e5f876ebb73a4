import { plural } from '../../parts/words'
import type { Kind } from './pieces'

/** What the page of the house styles says. */
export const texts = {
  title: 'House style',
  kept: 'What was kept last still holds.',
  head: {
    which: 'Which style',
    standard: (style: string) => `${style} (standard)`,
    called: 'called',
    name: 'Name of the style',
    fresh: 'New from this',
    freshName: (style: string) => `${style}, changed`,
    makeStandard: 'Make it the standard',
    remove: 'Delete this style',
    sure: (style: string) => `“${style}” is deleted for good. What was filed by it stays as it is.`,
    removeIt: 'Delete it',
    export: 'Export',
    import: 'Import',
    importFile: 'A style to import',
    noJson: (file: string) => `${file} is not JSON; nothing was taken from it.`,
  },
  divide: {
    title: 'Splitting',
    rule:
      'Where one shoot ends and the next begins. What is shot before the day’s start belongs to the day before, so ' +
      'that a night past midnight stays whole.',
    sample: (frame: string, taken: string) => `${frame}, taken ${taken}, belongs to`,
    split: 'Split',
    by: { day: 'by day', pause: 'by gaps', camera: 'by camera', nothing: 'never' },
    dayStarts: 'the day starting at',
    gaps: 'gaps in minutes',
  },
  folder: {
    title: 'Folder',
    rule:
      'One row for each level below the shelf; the last is the shoot’s own folder. Year first, and names sort as ' +
      'time does.',
    level: (level: number) => `Folder, level ${level}`,
    remove: 'Remove',
    removeLevel: (level: number) => `Remove level ${level}`,
    above: '+ a level above',
  },
  file: {
    title: 'File',
    rule:
      'Raw, JPEG and companions of a frame share one name. A counter goes on where the folder’s last file ended ' +
      'and passes over what is taken; without one, -2, -3 and so on are put behind a name that is taken.',
    sample: (frame: string) => `${frame} becomes`,
    name: 'File name',
    movies: 'movies and sound are called',
    moviesLabel: 'Movies and sound are called',
    moviesBy: { same: 'like pictures', own: 'by a pattern of their own' },
    movieName: 'Name of movies and sound',
    extension: 'extension',
    extensionLabel: 'Extension',
    extensions: { lower: 'lower case', upper: 'UPPER CASE', kept: 'as it is' },
    initials: 'initials',
  },
  subfolders: {
    title: 'Subfolders',
    rule:
      'Raw files, all other stills, and movies and sound that belong to no picture may go to folders of their own, ' +
      'and so may each run of frames, which gets its number behind the name. Other files keep the names and ' +
      'folders that they have on the card. Further folders are made with each shoot, one to a line; and the same ' +
      'folder, empty, on other shelves, named one to a line: for working files, for finals.',
    /** What goes into a folder of its own; in a sentence of what goes into none. */
    of: {
      raw: 'raw files',
      jpeg: 'other stills',
      movie: 'movies and sound',
      time_lapse: 'time-lapses',
      bracket: 'brackets',
      burst: 'bursts',
    },
    in: (what: string) => `${what} in`,
    others: 'other files in',
    none: 'No folder of their own:',
    skeleton: ['made with each shoot', 'with each shoot'],
    stages: ['the same folder on the shelves', 'the same on other shelves'],
    noFurther: 'No further folders:',
  },
  take: {
    title: 'What is copied',
    rule:
      'If a frame lacks the chosen kind, all its files are copied: nothing is left behind because a camera was set ' +
      'otherwise for a moment. Movies, sound and other files that stay on the card keep it from being cleared.',
    kindsLabel: 'Kinds',
    kinds: { both: 'raw and JPEG', raw: 'raw only', jpeg: 'JPEG only' },
    pairs: 'raw and JPEG of a pair are',
    pairsLabel: 'Raw and JPEG of a pair are',
    pairsAs: {
      jpeg: 'one frame, seen by its JPEG',
      raw: 'one frame, seen by its raw file',
      apart: 'two frames, two names',
    },
    companions: 'movies and sound',
    companionsLabel: 'Movies and sound',
    loose: 'other files',
    looseLabel: 'Other files',
    copied: { yes: 'copied', no: 'left on the card' },
  },
  dng: {
    title: 'Raw to DNG',
    rule:
      'Without loss: each DNG is read back and every pixel value compared with the raw file’s before it counts. ' +
      'Where it takes the raw file’s place, the copies of that go when the DNG is proven on the shelf and the ' +
      'twin; the raw file itself stays on the card. An entry may choose otherwise.',
    raws: 'raw files',
    rawsLabel: 'Raw files',
  },
  metadata: {
    title: 'Rights and keywords',
    rule:
      'Written into every copy while it is filed, as XMP, IPTC and Exif; raw files get a sidecar. The picture’s ' +
      'own bytes stay as they are, and the card too. The year of the copyright is that of the shot.',
    sample: (frame: string) => `${frame} will say:`,
    catalogue: 'The catalogue of keywords',
    runs: {
      time_lapse: 'keyword of time-lapses',
      bracket: 'keyword of brackets',
      burst: 'keyword of bursts',
    },
    set: (set: string) => `Rights set ${set}`,
    setName: 'Name of the rights set',
    setAbout: 'chosen for an entry, it stands over what is above',
    remove: 'Remove',
    removeSet: (set: string) => `Remove the rights set ${set}`,
    removeField: (field: string) => `Remove ${field}`,
    removeFieldOf: (field: string, set: string) => `Remove ${field} of ${set}`,
    fieldOf: (field: string, set: string) => `${field}, ${set}`,
    addSet: '+ a rights set, as for an agency or a client',
    setNames: ['Agency', 'Client-owned'],
    setNumber: (number: number) => `Rights ${number}`,
    keywords: 'Keywords',
    keywordsLabel: 'Keywords of the house style',
    noKeywords: 'for all frames',
    sidecars: 'Sidecars',
    sidecarsLabel: 'Sidecars are called',
    sidecarNames: { stem: 'name.xmp', whole: 'name.ext.xmp' },
    struck: 'Struck frames',
    struckLabel: 'Files of struck frames',
    struckSay: { nothing: 'their files do not say it', rejected: 'their files say rejected (rating −1)' },
  },
  ties: {
    title: 'Offered for',
    rule:
      'When a card of this label comes in, or frames of such a camera are on it, this style is offered first; and ' +
      'with it this shelf.',
    cards: 'card labels',
    cameras: 'cameras',
    shelves: 'shelves',
  },
  copies: {
    title: 'Copies',
    rule:
      'Each file is read once, written to the shelf and its twin, read back from both drives and compared by ' +
      'XXH128 before it gets its name. Nothing is overwritten, and nothing is written to a card. A second, ' +
      'cryptographic digest takes longer and also detects deliberate changes; lists of checksums in the shoot’s ' +
      'folder are checked by ordinary programs, with or without this one.',
    digest: 'second digest',
    digestLabel: 'Second digest',
    digests: { none: 'none', sha256: 'SHA-256', blake2b: 'BLAKE2b' },
    checksums: 'checksums in the shoot’s folder',
    checksumsLabel: 'Checksums in the shoot’s folder',
    laid: { no: 'none', yes: 'laid there' },
  },
  samples: {
    label: 'Samples',
    title: 'On the frames at hand',
    in: (folder: string, named: boolean) => `in ${folder}${named ? '' : ' (an example name)'}`,
  },
  cameras: {
    title: 'Cameras',
    about: 'A short name for each body, for names that say the camera; without one its model stands there.',
    name: (camera: string) => `Short name of ${camera}`,
    nameHint: 'short name',
    frames: (frames: number) => plural(frames, 'frame'),
  },
  pieces: {
    kinds: {
      shoot_day: 'Day of the shoot',
      shot_time: 'Date and time of the shot',
      first_time: 'Date and time of the first shot',
      trip: 'Trip',
      shoot_name: 'Shoot name',
      shoot_kind: 'Kind of shoot',
      client: 'Client',
      initials: 'Initials',
      card_label: 'Card label',
      maker: 'Maker of the camera',
      camera: 'Camera',
      body_serial: 'Body serial number',
      original_name: 'Original name',
      original_number: 'Original number',
      first_number: 'Number of the first frame',
      last_number: 'Number of the last frame',
      sequence: 'Number in its run',
      counter: 'Counter',
      text: 'Free text',
    } satisfies Record<Kind, string>,
    freeText: (text: string) => `Free text “${text}”`,
    add: '+ piece',
    addTo: (row: string) => `Add a piece to ${row}`,
    moved: (piece: string, to: number, of: number) => `${piece} is piece ${to} of ${of} now`,
    pickedUp: 'Picked up',
    over: (place: number, of: number) => `Over piece ${place} of ${of}`,
    dropped: 'Dropped',
    stayed: 'It stays where it was',
    keys: 'Ctrl with the left or right arrow moves it, Delete removes it.',
    remove: 'Remove',
    done: 'Done',
    text: 'Text',
    pattern: 'Pattern',
    patternHelp:
      'yyyy year, MM month, dd day, HH hour, mm minute, ss second, SSS parts; EEEE weekday, MMMM month in words; ' +
      "letters of your own between '…'.",
    digits: 'Digits',
    startsAt: 'Starts at',
    step: 'Step',
    counts: 'Counts the frames',
    scopes: { shoot: 'of the shoot', day: 'of the day', intake: 'of the intake', year: 'of the year' },
    letters: 'Letters',
    cases: { kept: 'as typed', lower: 'lower case', upper: 'UPPER CASE' },
    blanks: 'Blanks',
    blanksAs: { kept: 'kept', hyphen: 'as -', underscore: 'as _', joined: 'joined' },
    lastLetters: 'Last letters',
    lettersAtMost: 'Letters at most',
    /** On a chip. */
    blanksBriefly: { kept: '', hyphen: '-', underscore: '_', joined: 'joined' },
    lettersBriefly: (letters: number) => `${letters} letters`,
    wholeNumber: (least: number, most: number, typed: string) =>
      `a whole number from ${least} to ${most.toLocaleString('en')}, please; ` +
      `${typed === '' ? 'nothing' : `“${typed}”`} is not kept`,
  },
} as const
