import type { Keyword } from '../../api/client'
import { plural } from '../../parts/words'

/** What the catalogue of keywords says. */
export const texts = {
  title: 'Keywords',
  back: 'House style',
  count: (keywords: number) => `${plural(keywords, 'keyword')} in the catalogue`,
  list: 'Catalogue',
  import: 'Import a list',
  importFile: 'A list of keywords',
  exportAs: 'Export as',
  or: 'or',
  csv: 'CSV',
  indented: 'indented text',
  taken: (name: string, read: number, added: number) =>
    `${name}: ${plural(read, 'keyword')} read, ${added.toLocaleString('en')} of them new.`,
  dismiss: 'Dismiss',
  find: 'Find or add a keyword',
  findHint: 'Find one, or type a new one: Places › Tarn Hollow › Quay',
  add: (keyword: string) => `Add “${keyword}”`,
  none: {
    title: 'No keywords yet',
    about:
      'They come here by themselves when you type them on a sheet. A list that you have from elsewhere, one keyword ' +
      'a line and those beneath another indented, can be imported above.',
  },
  notFound: (words: string) => `No keyword or synonym has “${words}” in it.`,
  also: (synonyms: string[]) => `also ${synonyms.join(', ')}`,
  notWritten: 'not written to files',
  withoutParents: 'without its parents',
  editor: {
    name: 'Name',
    beneath: 'Beneath',
    topLevel: 'nothing: it is at the top level',
    synonyms: 'Also found by',
    synonymsHint: 'synonyms, with commas between',
    written: 'Written to files',
    writtenOf: (keyword: string) => `Written to files of ${keyword}`,
    ways: { word: 'the word', parents: 'the word and its parents', nothing: 'nothing' },
    mergeInto: 'Merge into',
    mergeHint: 'another that means the same',
    merge: 'Merge',
    delete: 'Delete this keyword',
    deleteSays: (keyword: Keyword, beneath: number) =>
      [
        keyword.frames > 0
          ? `It comes off ${plural(keyword.frames, 'frame')}, and out of their files.`
          : 'No frame has it.',
        beneath > 0 ? `${plural(beneath, 'keyword')} beneath it ${beneath === 1 ? 'goes' : 'go'} with it.` : '',
      ].join(' '),
    deleteIt: (keyword: string) => `Delete “${keyword}”`,
  },
}
