import type { Piece } from '../../api/client'
import { texts } from './texts'

export type Kind = Piece['piece']

const says = texts.pieces

/** Pieces that cannot name a folder: they are of one frame. */
export const OF_FRAME: readonly Kind[] = [
  'shot_time',
  'card_label',
  'body_serial',
  'original_name',
  'original_number',
  'sequence',
  'counter',
]

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
        piece.case === 'lower' || piece.case === 'upper' ? says.cases[piece.case] : '',
        says.blanksBriefly[piece.blanks ?? 'kept'],
        piece.length ? says.lettersBriefly(piece.length) : '',
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
