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
