/** A page of the handbook, `docs/handbook/NAME.md`. */
export interface Page {
  name: string
  title: string
  /** As it is written, without its title. */
  text: string
}

export interface Found {
  page: Page
  /** The heading that it stands under, as it is linked to; null: the page's own. */
  section: { title: string; id: string } | null
  /** The paragraph, without its marks. */
  words: string
}

/** In the order in which a card goes through them. */
const ORDER = ['first-card', 'bays', 'sheet', 'receipt', 'shoots', 'first-look', 'ledger', 'house-style', 'keywords']

/** @param files text by path; the name of a page is that of its file */
export function pagesOf(files: Record<string, string>): Page[] {
  return Object.entries(files)
    .map(([path, text]) => {
      const [title = '', ...rest] = text.split('\n')
      const name = path.split('/').at(-1)?.replace(/\.md$/, '') ?? ''
      return { name, title: title.replace(/^# /, ''), text: rest.join('\n').trim() }
    })
    .sort((a, b) => ORDER.indexOf(a.name) - ORDER.indexOf(b.name))
}

/** Headings within a page, as they are linked to. */
export const sectionsOf = ({ text }: Page): { title: string; id: string }[] =>
  [...text.matchAll(/^##+ (.*)$/gm)].map(([, title = '']) => ({ title, id: idOf(title) }))

export const idOf = (heading: string): string => heading.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')

/** Paragraphs that hold all of some words, or begin one with them. */
export function find(pages: readonly Page[], by: string): Found[] {
  const words = by.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  return pages.flatMap((page) => {
    let section: Found['section'] = null
    const found: Found[] = []
    for (const block of [page.title, ...page.text.split(/\n{2,}|\n(?=- |\d+\. |\|)/)]) {
      const heading = /^#+ (.*)/.exec(block)?.[1]
      if (heading !== undefined) section = { title: heading, id: idOf(heading) }
      const plain = plainly(block)
      const all = `${section?.title ?? page.title} ${plain}`.toLowerCase()
      if (heading === undefined && plain !== '' && words.every((word) => all.includes(word)))
        found.push({ page, section, words: plain })
    }
    return found
  })
}

/** Without the marks of Markdown; nothing of a picture. */
function plainly(block: string): string {
  return block
    .replaceAll(/!\[[^\]]*\]\([^)]*\)/g, '')
    .replaceAll(/\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replaceAll(/^(#+|-|\d+\.|\|) |[*`]| \|$/gm, '')
    .replaceAll(/\s+/g, ' ')
    .replaceAll(/^[|\- ]+$/g, '')
    .trim()
}
