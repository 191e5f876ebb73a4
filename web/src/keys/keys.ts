/** Where keys work: a part of the page that has the focus, or all of it. */
export type Scope = keyof typeof KEYS
/** What a key of a scope does. */
export type Act<S extends Scope> = keyof (typeof KEYS)[S]['keys'] & string

interface Key {
  /** Values of `KeyboardEvent.key`, in lower case. */
  press: readonly string[]
  /** With Ctrl or, on a Mac, Cmd. */
  mod?: boolean
  /** `true`: only with Shift; `'may'`: Shift says how, or is part of the character; else without. */
  shift?: boolean | 'may'
  /** As the list shows it; without one, the key before it tells of this one too. */
  label?: string
  what?: string
}

const scope = <K extends string>(title: string, keys: Record<K, Key>) => ({ title, keys })

const DIGITS = ['0', '1', '2', '3', '4', '5'] as const

/** Every key of the application, once. The list behind `?` is made from it, in this order. */
export const KEYS = {
  everywhere: scope('Everywhere', {
    search: { press: ['/'], shift: 'may', label: '/', what: 'Search the shoots' },
    list: { press: ['?'], shift: 'may', label: '?', what: 'This list' },
  }),
  sheet: scope('Sheet', {
    undo: { press: ['z'], mod: true, label: 'Ctrl Z', what: 'Undo the last edit' },
    redo: { press: ['z'], mod: true, shift: true, label: 'Ctrl Y', what: 'Redo it; Ctrl Shift Z does the same' },
    redoToo: { press: ['y'], mod: true },
  }),
  name: scope('Name of an entry', {
    next: { press: ['enter'], label: 'Enter', what: 'On to the next entry' },
    leave: { press: ['escape'], label: 'Escape', what: 'Leave the field' },
  }),
  tape: scope('Mark on the tape', {
    earlier: { press: ['arrowleft'], label: '←  →', what: 'The entry begins one frame earlier, later' },
    later: { press: ['arrowright'] },
    join: { press: ['j'], label: 'J', what: 'Join with the entry before' },
  }),
  frames: scope('Contact sheet and strip', {
    left: { press: ['arrowleft'], shift: 'may', label: '←  →', what: 'Frame to the left, to the right' },
    right: { press: ['arrowright'], shift: 'may' },
    up: { press: ['arrowup'], shift: 'may', label: '↑  ↓', what: 'Row above, row below' },
    down: { press: ['arrowdown'], shift: 'may' },
    first: {
      press: ['home'],
      shift: 'may',
      label: 'Home End',
      what: 'First frame, last frame; Shift with any of these selects a range',
    },
    last: { press: ['end'], shift: 'may' },
    look: { press: [' '], label: 'Space', what: 'Look closer' },
    open: { press: ['enter'], label: 'Enter', what: 'From a strip, open the contact sheet; in it, look closer' },
    all: { press: ['a'], mod: true, label: 'Ctrl A', what: 'Select all of it' },
    close: { press: ['escape'], label: 'Escape', what: 'Close the contact sheet' },
  }),
  selecting: scope('Contact sheet of a sheet', {
    leaveOut: { press: ['l'], label: 'L', what: 'Leave the selected frames out, or take them back' },
    begin: { press: ['b'], label: 'B', what: 'Begin an entry at the frame' },
    nextNote: { press: ['n'], label: 'N', what: 'To the next run, missed frame or change of interval' },
  }),
  filed: scope('Contact sheet of a shoot', {
    keep: { press: ['k'], label: 'K', what: 'Keep the selected frames' },
    strike: { press: ['s'], label: 'S', what: 'Strike them' },
    open: { press: ['o'], label: 'O', what: 'Leave them open' },
    stars: { press: DIGITS, shift: 'may', label: '0 – 5', what: 'Stars' },
    rotateRight: { press: ['r'], label: 'R', what: 'Rotate them to the right; Shift R to the left' },
    rotateLeft: { press: ['r'], shift: true },
  }),
  look: scope('Closer look', {
    previous: { press: ['arrowleft'], label: '←  →', what: 'Frame before, frame after' },
    next: { press: ['arrowright'] },
    first: { press: ['home'], label: 'Home End', what: 'First frame, last frame' },
    last: { press: ['end'] },
    back: { press: [' '], label: 'Space', what: 'Back; Escape does the same' },
  }),
  pass: scope('First look', {
    keep: { press: ['k'], label: 'K', what: 'Keep the frame; Shift K its whole group' },
    keepGroup: { press: ['k'], shift: true },
    strike: { press: ['s'], label: 'S', what: 'Strike it; Shift S its whole group' },
    strikeGroup: { press: ['s'], shift: true },
    open: { press: ['o'], label: 'O', what: 'Leave it open, and go on' },
    oneOfGroup: { press: ['b'], label: 'B', what: 'Of a burst, or of tries, keep this frame and strike the others' },
    sharpest: { press: ['f'], label: 'F', what: 'To the sharpest frame of the group' },
    stars: { press: DIGITS, shift: 'may', label: '0 – 5', what: 'Stars' },
    tabs: {
      press: ['t'],
      label: 'T',
      what: 'Tabs; then a letter',
    },
    previous: { press: ['arrowleft'], label: '←  →', what: 'Frame before, frame after' },
    next: { press: ['arrowright'] },
    first: { press: ['home'], label: 'Home End', what: 'First frame, last frame' },
    last: { press: ['end'] },
    fold: {
      press: ['g'],
      label: 'G',
      what: 'Fold groups; then open the one at hand',
    },
    nextOpen: { press: ['n'], label: 'N', what: 'To the next frame that is open' },
    closer: {
      press: [' '],
      label: 'Space',
      what: '1:1 at the pointer, or where the camera focused; again for the whole picture',
    },
    another: { press: ['a'], label: 'A', what: 'Another frame beside it, up to four; Shift A one less' },
    oneLess: { press: ['a'], shift: true },
    light: { press: ['h'], label: 'H', what: 'Histogram, and what is blown or black' },
    rotateRight: { press: ['r'], label: 'R', what: 'Rotate the frame to the right; Shift R to the left' },
    rotateLeft: { press: ['r'], shift: true },
    undo: { press: ['z'], mod: true, label: 'Ctrl Z', what: 'Undo the last verdict' },
    redo: { press: ['z'], mod: true, shift: true, label: 'Ctrl Y', what: 'Redo it; Ctrl Shift Z does the same' },
    redoToo: { press: ['y'], mod: true },
    leave: { press: ['escape'], label: 'Escape', what: 'Back to the shoot' },
  }),
  run: scope('Playing a time-lapse', {
    toggle: { press: [' '], label: 'Space', what: 'Play, pause' },
    previous: { press: ['arrowleft'], label: '←  →', what: 'Frame before, frame after' },
    next: { press: ['arrowright'] },
    first: { press: ['home'], label: 'Home End', what: 'First frame, last frame' },
    last: { press: ['end'] },
    nextMark: { press: ['n'], label: 'N', what: 'To the next mark' },
  }),
  pieces: scope('Pieces of a name', {
    previous: { press: ['arrowleft'], label: '←  →', what: 'Piece before, piece after' },
    next: { press: ['arrowright'] },
    back: { press: ['arrowleft'], mod: true, label: 'Ctrl ← →', what: 'Move it forward, back' },
    on: { press: ['arrowright'], mod: true },
    remove: { press: ['delete', 'backspace'], label: 'Delete', what: 'Remove it' },
  }),
} as const satisfies Record<string, { title: string; keys: Record<string, Key> }>

/** The lines of a scope in the list of keys. */
export const listed = (keys: Record<string, Key>): { label: string; what: string }[] =>
  Object.values(keys).flatMap(({ label, what }) => (label && what ? [{ label, what }] : []))

/** A key that was pressed: the browser's event, or React's. */
export interface Pressed {
  key: string
  ctrlKey: boolean
  metaKey: boolean
  altKey: boolean
  shiftKey: boolean
  target: EventTarget | null
  preventDefault: () => void
}

const FIELDS =
  'input:not([type=range]):not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true]'
/** What is pressed by the space bar or by Enter. */
const PRESSED = 'button, a[href], summary, input, video, audio'

/** Whether a key belongs to a field in which somebody types. */
export const isTyping = ({ target }: Pick<Pressed, 'target'>): boolean =>
  target instanceof Element && target.closest(FIELDS) !== null

/**
 * What a key does in a scope. A key that a field needs, or the button that has the focus, is nobody else's; nor is one
 * with a modifier that is not asked for.
 *
 * @param inField the scope is the field
 */
export function actOf<S extends Scope>(of: S, event: Pressed, inField = false): Act<S> | null {
  if (event.altKey || (!inField && isTyping(event))) return null
  const key = event.key.toLowerCase()
  const isControl = event.target instanceof Element && event.target.closest(PRESSED) !== null
  if (!inField && isControl && (key === ' ' || key === 'enter')) return null
  const keys: Record<string, Key> = KEYS[of].keys
  for (const [act, { press, mod = false, shift = false }] of Object.entries(keys)) {
    if (!press.includes(key) || mod !== (event.ctrlKey || event.metaKey)) continue
    if (shift === 'may' || shift === event.shiftKey) return act as Act<S>
  }
  return null
}

/**
 * Does what a key means, where something is given for it.
 *
 * @returns whether it was one
 */
export function act<S extends Scope>(
  of: S,
  event: Pressed,
  acts: Partial<Record<Act<S>, ((event: Pressed) => void) | undefined>>,
  inField = false,
): boolean {
  const what = actOf(of, event, inField)
  const does = what === null ? undefined : acts[what]
  if (!does) return false
  event.preventDefault()
  does(event)
  return true
}
