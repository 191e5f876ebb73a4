import type { Piece } from '../../api/client'

export type Kind = Piece['piece']

/** `ofFrame`: it cannot name a folder. */
export const KINDS: Record<Kind, { label: string; ofFrame: boolean }> = {
  shoot_day: { label: 'Day of the shoot', ofFrame: false },
  shot_time: { label: 'Date and time of the shot', ofFrame: true },
  first_time: { label: 'Date and time of the first shot', ofFrame: false },
  trip: { label: 'Trip', ofFrame: false },
  shoot_name: { label: 'Shoot name', ofFrame: false },
  shoot_kind: { label: 'Kind of shoot', ofFrame: false },
  client: { label: 'Client', ofFrame: false },
  initials: { label: 'Initials', ofFrame: false },
  card_label: { label: 'Card label', ofFrame: true },
  maker: { label: 'Maker of the camera', ofFrame: false },
  camera: { label: 'Camera', ofFrame: false },
  body_serial: { label: 'Body serial number', ofFrame: true },
  original_name: { label: 'Original name', ofFrame: true },
  original_number: { label: 'Original number', ofFrame: true },
  first_number: { label: 'Number of the first frame', ofFrame: false },
  last_number: { label: 'Number of the last frame', ofFrame: false },
  sequence: { label: 'Number in its run', ofFrame: true },
  counter: { label: 'Counter', ofFrame: true },
  text: { label: 'Free text', ofFrame: false },
}

const FRESH: Partial<Record<Kind, Omit<Piece, 'piece'>>> = {
  shoot_day: { format: 'yyyy-MM-dd' },
  shot_time: { format: 'HHmmss' },
  first_time: { format: "HH'h'" },
  body_serial: { length: 4 },
  original_number: { width: 4 },
  first_number: { width: 4 },
  last_number: { width: 4 },
  sequence: { width: 2 },
  counter: { width: 4, start: 1, step: 1, scope: 'shoot' },
  text: { text: '_' },
}

export function fresh(kind: Kind): Piece {
  return { piece: kind, ...FRESH[kind] }
}

/** What stands on a chip besides its kind. */
export function detail(piece: Piece): string {
  switch (piece.piece) {
    case 'shoot_day':
    case 'shot_time':
    case 'first_time':
      return piece.format ?? ''
    case 'counter':
      return String(piece.start ?? 1).padStart(piece.width ?? 4, '0')
    case 'original_number':
    case 'first_number':
    case 'last_number':
    case 'sequence':
      return '0'.repeat(piece.width ?? 4)
    default:
      return [
        piece.case === 'lower' ? 'lower case' : piece.case === 'upper' ? 'UPPER CASE' : '',
        { hyphen: '-', underscore: '_', joined: 'joined', kept: '' }[piece.blanks ?? 'kept'],
        piece.length ? `${piece.length} letters` : '',
      ]
        .filter(Boolean)
        .join(', ')
  }
}

export function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const rest = list.filter((_, i) => i !== from)
  const item = list[from]
  return item === undefined || to < 0 || to > rest.length ? [...list] : [...rest.slice(0, to), item, ...rest.slice(to)]
}
