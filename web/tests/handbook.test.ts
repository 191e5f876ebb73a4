import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { find, idOf, pagesOf, sectionsOf } from '../src/places/handbook/pages'

const root = join(import.meta.dirname, '../..')
const folder = join(root, 'docs/handbook')
const pages = pagesOf(
  Object.fromEntries(readdirSync(folder).map((file) => [file, readFileSync(join(folder, file), 'utf8')])),
)

/** All that the pages can show, blanks made one. */
const shown = readdirSync(join(root, 'web/src'), { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.tsx') || file.endsWith('.ts'))
  .map((file) => readFileSync(join(root, 'web/src', file), 'utf8'))
  .join('\n')
  .replaceAll(/\s+/g, ' ')

describe('the handbook', () => {
  test('begins with the first card', () => {
    expect(pages.map((page) => page.title)).toEqual([
      'The first card',
      'Bays',
      'Sheet',
      'Receipt',
      'Shoots',
      'First look',
      'Ledger',
      'House style',
      'Keywords',
    ])
  })

  test.each(pages.map((page) => [page.name, page] as const))(
    '%s: no link is dead, and no picture is missing',
    (_, page) => {
      for (const [, mark = '', to = ''] of page.text.matchAll(/(!?)\[[^\]]*\]\(([^)]*)\)/g)) {
        if (mark === '!')
          expect(readdirSync(join(root, 'docs/screenshots'))).toContain(to.replace('../screenshots/', ''))
        else expect(pages.map(({ name }) => `${name}.md`)).toContain(to)
      }
    },
  )

  test.each(pages.map((page) => [page.name, page] as const))(
    '%s: what it names in bold stands on the screen',
    (_, page) => {
      for (const [, name = ''] of page.text.replaceAll(/\s+/g, ' ').matchAll(/\*\*([^*]+)\*\*/g))
        expect(
          ['>', '"', "'", '`', ' '].some((before) => shown.includes(`${before}${name}`)),
          name,
        ).toBe(true)
    },
  )

  test.each(pages.map((page) => [page.name, page] as const))('%s: each of its headings is another one', (_, page) => {
    const ids = sectionsOf(page).map(({ id }) => id)
    expect(new Set(ids).size).toBe(ids.length)
    expect(ids.every((id) => /^[a-z0-9]/.test(id))).toBe(true)
  })

  test('a search finds paragraphs by the beginnings of words, with the heading above them', () => {
    const found = find(pages, 'Comb slot')
    expect(found).toHaveLength(1)
    expect(found[0]).toMatchObject({ page: { name: 'bays' }, section: { title: 'A card’s row', id: 'a-card-s-row' } })
    expect(found[0]?.words).toMatch(/^Combine: tick two or more cards/)
    expect(find(pages, 'twice')[0]?.words).toBe('twice | the same picture lies on the sheet a second time')
    expect(find(pages, 'zeppelin')).toEqual([])
    expect(find(pages, '  ')).toEqual([])
    expect(idOf('Cleared, and not cleared')).toBe('cleared-and-not-cleared')
  })
})
