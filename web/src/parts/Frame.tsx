import type { Facts, Verdict } from '../api/client'
import type { Tab } from '../api/tabs'
import { Stroke } from './Stroke'
import { classes } from './classes'
import { Picture } from './Picture'
import { stars } from './fact-words'
import { plural } from './words'

/** What strips, contact sheets and the closer look need of a frame, on a card or in a shoot. */
export interface Seen {
  name: string
  picture: string | null
  facts: Facts
  state: 'new' | 'filed' | 'left_out' | 'unreadable' | 'copied' | 'failed' | 'kept'
  kinds: string
  problems: string[]
  lines: string[]
  /** Of the first look; a frame on a card has none. */
  verdict?: Verdict
  /** Given here. */
  stars?: number | null
  tabs?: readonly Tab[]
}

export const HEIGHT = 80

export function isUpright(facts: Facts): boolean {
  const sideways = (facts.orientation ?? 1) >= 5
  const tall = (facts.height ?? 2) > (facts.width ?? 3)
  return sideways !== tall
}

/** Width of a frame on a strip of this height. */
export function widthOf(frame: Seen | undefined, height: number): number {
  return Math.round(frame && isUpright(frame.facts) ? height / 1.5 : height * 1.5)
}

/** One frame on the mat, with what there is to say of it in the corner: in words, never by colour alone. */
export function FrameOnMat({
  frame,
  height,
  arriving = false,
  marked = false,
  silent = false,
}: {
  frame: Seen | undefined
  height: number
  arriving?: boolean
  marked?: boolean
  /** Where it is too small for words. */
  silent?: boolean
}) {
  if (!frame || (arriving && frame.state === 'new')) {
    return <span className="block border border-on-mat/25" style={{ height, width: widthOf(frame, height) }} />
  }
  const word =
    {
      new: null,
      copied: null,
      kept: null,
      filed: 'filed',
      left_out: 'left out',
      unreadable: 'unreadable',
      failed: 'failed',
    }[frame.state] ?? (frame.problems.length > 0 ? 'see note' : null)
  const verified = frame.state === 'copied'
  return (
    <span
      className={`relative block ${marked ? 'outline-3 outline-offset-1 outline-on-mat' : ''}`}
      style={{ height, width: widthOf(frame, height) }}
    >
      <Picture fingerprint={frame.picture} name={frame.name} height={height} upright={isUpright(frame.facts)} />
      {frame.verdict === 'struck' && <Stroke />}
      {!silent && starsOf(frame) > 0 && (
        <span
          className="absolute right-0 bottom-0 bg-[#f4f4f4] px-1 text-[10px] leading-[17px] text-[#1a1a1a]"
          aria-hidden="true"
        >
          {stars(starsOf(frame))}
        </span>
      )}
      {!silent && (word !== null || verified || frame.verdict === 'kept') && (
        <span
          className={classes(
            'absolute bottom-0 left-0 flex gap-1 px-1.5 text-[11px] leading-[17px]',
            'bg-[#f4f4f4] text-[#1a1a1a]',
          )}
        >
          {verified && <span aria-label="verified">✓</span>}
          {frame.verdict === 'kept' && <span aria-label="kept">✓</span>}
          {word}
        </span>
      )}
    </span>
  )
}

/** Those given here, or else those of its file. */
const starsOf = ({ stars: given, facts }: Seen): number => Math.max(0, given ?? facts.rating ?? 0)

/** The frame in words, for assistive technology and titles. */
export function describe(frame: Seen | undefined): string {
  if (!frame) return 'Frame'
  return [
    frame.name,
    frame.facts.captured_at?.replace('T', ' ').slice(0, 19) ?? 'no date',
    frame.kinds,
    starsOf(frame) > 0 ? plural(starsOf(frame), 'star') : null,
    frame.verdict === undefined || frame.verdict === 'open' ? null : frame.verdict,
    ...(frame.tabs ?? []).map(({ name }) => `tab ${name}`),
    frame.state === 'new' || frame.state === 'kept' ? null : frame.state.replace('_', ' '),
    ...frame.problems,
  ]
    .filter(Boolean)
    .join(', ')
}
