import type { Sent } from '../model/spans'

/** A change that the server has not answered yet, under the key by which it knows it. */
export interface Kept {
  key: string
  sent: Sent
}

/** Where changes on their way outlive a reload of the page, in order. */
export interface Keeping {
  load: () => Kept[]
  save: (all: readonly Kept[]) => void
}

/** In this tab of the browser, for one sheet. */
export function keptInTab(sheet: number): Keeping {
  const name = `velvet-on-their-way-${sheet}`
  return {
    load: () => {
      const text = sessionStorage.getItem(name)
      return text === null ? [] : (JSON.parse(text) as Kept[]) // written below, by this version or the one before
    },
    save: (all) => {
      try {
        if (all.length === 0) sessionStorage.removeItem(name)
        else sessionStorage.setItem(name, JSON.stringify(all))
      } catch {
        // it is full: what is on its way goes on, only not over a reload
      }
    },
  }
}
