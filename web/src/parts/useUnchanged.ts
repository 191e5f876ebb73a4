import { useState } from 'react'

/** The object that was given before, for as long as each member of it is the same: what is drawn of it need not be. */
export function useUnchanged<T extends object>(value: T | undefined): T | undefined {
  const [kept, setKept] = useState(value)
  if (kept === value || (kept && value && isSame(kept, value))) return kept
  setKept(value)
  return value
}

function isSame<T extends object>(a: T, b: T): boolean {
  const names = Object.keys(a) as (keyof T)[]
  return names.length === Object.keys(b).length && names.every((name) => Object.is(a[name], b[name]))
}
