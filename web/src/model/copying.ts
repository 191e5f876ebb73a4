import type { Sheet } from '../api/client'
import type { components } from '../api/schema'

type Told = components['schemas']['Happenings']['intake']

/** How far into a file the workers are, by the name it will have. */
export type Within = Readonly<Record<string, { copying: number; verifying: number }>>

/** More files than are in hand at one time; those that were told of longest ago are done. */
const IN_HAND = 16

/** @param bytes of the file that were read from the card, or read back from the drives */
export function withinNow(known: Within, name: string, step: 'copying' | 'verifying', bytes: number): Within {
  const others = Object.entries(known).filter(([each]) => each !== name)
  const own = known[name] ?? { copying: 0, verifying: 0 }
  return Object.fromEntries([...others.slice(1 - IN_HAND), [name, { ...own, [step]: bytes }]])
}

export const fileName = (path: string) => path.split('/').at(-1) ?? ''

/**
 * A sheet that is being copied, as it is by what was told. What was told earlier than the sheet was answered comes late
 * and changes nothing.
 */
export function withProgress(sheet: Sheet, { progress, entries, target, step }: Told): Sheet {
  const known = sheet.progress
  if (!known) return sheet
  if (progress && progress.files_done >= known.files_done) {
    const of = new Map(entries?.map((entry) => [entry.number, entry.progress]))
    return {
      ...sheet,
      progress: { ...known, ...progress },
      entries: sheet.entries.map((entry) => ({ ...entry, progress: of.get(entry.number) ?? entry.progress })),
    }
  }
  if (!target || !step) return sheet
  const name = fileName(target)
  const at = known.now.findIndex((each) => each.name === name && each.step !== 'comparing')
  if (known.now[at]?.step === step) return sheet
  const now = at < 0 ? [...known.now, { name, step }] : known.now.with(at, { name, step })
  return { ...sheet, progress: { ...known, now } }
}
