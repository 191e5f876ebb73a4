/**
 * Sheets that this window has open, as far as the feed asks for them; what stands behind these is loaded with the page
 * of a sheet.
 */
const edits = new Map<number, { readonly revision: number }>()
const frames = new Map<number, { outdate: () => void }>()

export function tellsRevision(sheet: number, of: { readonly revision: number }): void {
  edits.set(sheet, of)
}

export function tellsFrames(sheet: number, of: { outdate: () => void }): void {
  frames.set(sheet, of)
}

/** The newest state of a sheet that this page made itself; −1 where it made none. */
export const ownRevision = (sheet: number): number => edits.get(sheet)?.revision ?? -1

/** What is known of a sheet's frames may not be true any more. */
export function outdateFrames(sheet: number): void {
  frames.get(sheet)?.outdate()
}
