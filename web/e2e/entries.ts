import type { Locator, Page } from '@playwright/test'

export function entry(page: Page, number: number): Locator {
  return page.getByRole('region', { name: `Entry ${number}`, exact: true })
}

/** Takes an entry of a sheet in hand, as a click on its row does. */
export async function inHand(page: Page, number: number): Promise<Locator> {
  const row = entry(page, number)
  await row.waitFor()
  const open = row.getByRole('button', { name: /contact sheet$/i })
  if ((await open.count()) === 0) await row.click({ position: { x: 10, y: 10 } })
  await open.waitFor()
  return row
}

/** Opens the mark of a note on the entry in hand. */
export async function openNote(page: Page, number: number, title: RegExp): Promise<Locator> {
  const notes = (await inHand(page, number)).getByRole('group', { name: `Notes on entry ${number}` })
  await notes.getByRole('button', { name: title, expanded: false }).first().click()
  return notes
}
