import type { Style } from '../api/client'

export type DngChoice = Style['dng']

/** What becomes of raw files, in the words of the house style and of an entry. */
export const DNG: Record<DngChoice, string> = {
  no: 'stay as they are',
  beside: 'get a DNG beside them',
  instead: 'become DNG',
  embed: 'become DNG, the camera file kept within',
}
