import type { Pass, PassFrame } from '../api/client'

/** The pass of a shoot, by its id. */
export interface OfShoot {
  shoot: number
  pass: Pass
}

/** One pass through frames of several shoots, a shoot after the other. */
export interface Whole extends Pass {
  /** For each shoot that has frames in it, in order: where the first is, and their places among all of its own. */
  parts: readonly { shoot: number; from: number; places: readonly number[] }[]
  /** The shoot in which something would be undone, if there is anything. */
  undoIn: number | null
  redoIn: number | null
}

/** The part that a position is in. */
export function partAt({ parts }: Pick<Whole, 'parts'>, position: number): Whole['parts'][number] | undefined {
  return parts.findLast(({ from }) => from <= position)
}

/**
 * Makes one pass of those of several shoots, again and again as they change: what stays as it is stays the same object.
 *
 * @param intake whose frames are meant alone; null: all of them
 */
export function joining(intake: number | null): (passes: readonly OfShoot[]) => Whole {
  const facets: Pass['facets'] = []
  const numbers = new Map<string, number>()
  const ofFrames = new WeakMap<PassFrame, PassFrame>()
  let known: { passes: readonly OfShoot[]; whole: Whole } | null = null

  const numberOf = (facet: Pass['facets'][number]): number => {
    const key = `${facet.by} ${facet.value}`
    const number = numbers.get(key) ?? facets.push(facet) - 1
    numbers.set(key, number)
    return number
  }
  const joined = (frame: PassFrame, own: Pass['facets']): PassFrame => {
    const known = ofFrames.get(frame)
    if (known) return known
    const one = { ...frame, facets: frame.facets.flatMap((number) => (own[number] ? [numberOf(own[number])] : [])) }
    ofFrames.set(frame, one)
    return one
  }
  return (passes) => {
    if (known?.passes.length === passes.length && known.passes.every(({ pass }, n) => pass === passes[n]?.pass))
      return known.whole
    const [only, ...others] = passes
    const whole = only && others.length === 0 && intake === null ? alone(only) : severally(passes)
    known = { passes, whole }
    return whole
  }

  /** All of one shoot, as it is: 20,000 frames are not looked at for each verdict. */
  function alone({ shoot, pass }: OfShoot): Whole {
    const [part] = known?.whole.parts ?? []
    const places =
      part?.places.length === pass.frames.length ? part.places : Array.from(pass.frames, (_, place) => place)
    return { ...pass, parts: [{ shoot, from: 0, places }], undoIn: shoot, redoIn: shoot }
  }

  function severally(passes: readonly OfShoot[]): Whole {
    const frames: PassFrame[] = []
    const groups: Pass['groups'] = []
    const parts: Whole['parts'][number][] = []
    for (const { shoot, pass } of [...passes].sort(byTime)) {
      const isMeant = (frame: PassFrame) => intake === null || frame.intakes.includes(intake)
      const places = pass.frames.flatMap((frame, place) => (isMeant(frame) ? [place] : []))
      if (places.length === 0) continue
      parts.push({ shoot, from: frames.length, places })
      const meant = places.flatMap((place) => pass.frames[place] ?? [])
      for (const frame of meant) frames.push(joined(frame, pass.facets))
      groups.push(...groupsOf(pass.groups, meant))
    }
    const undone = latest(passes, ({ undo_step }) => undo_step)
    const again = latest(passes, ({ redo_step }) => (redo_step === null ? null : -redo_step))
    return {
      frames,
      groups,
      parts,
      facets: [...facets],
      turn: 0,
      undo: undone?.pass.undo ?? null,
      undo_step: undone?.pass.undo_step ?? null,
      undoIn: undone?.shoot ?? null,
      redo: again?.pass.redo ?? null,
      redo_step: again?.pass.redo_step ?? null,
      redoIn: again?.shoot ?? null,
    }
  }
}

/** Of groups what is left of them among some frames, where these are still several. */
function groupsOf(groups: Pass['groups'], frames: readonly PassFrame[]): Pass['groups'] {
  const among = new Set(frames.map(({ id }) => id))
  return groups.flatMap((group) => {
    const left = group.frames.filter((frame) => among.has(frame))
    if (left.length === group.frames.length) return [group]
    const sharpest = group.sharpest !== null && among.has(group.sharpest) ? group.sharpest : null
    return left.length > 1 ? [{ ...group, frames: left, sharpest }] : []
  })
}

function byTime(one: OfShoot, other: OfShoot): number {
  const begins = ({ pass }: OfShoot) => pass.frames[0]?.seconds ?? Infinity
  const [first, second] = [begins(one), begins(other)]
  return first === second ? one.shoot - other.shoot : first - second
}

/** The one with the greatest number; those that have none are passed over. */
function latest(passes: readonly OfShoot[], of: (pass: Pass) => number | null): OfShoot | null {
  let best: OfShoot | null = null
  for (const one of passes) {
    const number = of(one.pass)
    if (number !== null && number > (best === null ? -Infinity : (of(best.pass) ?? -Infinity))) best = one
  }
  return best
}
