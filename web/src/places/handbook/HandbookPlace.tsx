import { marked } from 'marked'
import { useEffect, useMemo, useState, type MouseEvent } from 'react'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { classes } from '../../parts/classes'
import { Heading } from '../../parts/Heading'
import { find, idOf, pagesOf, sectionsOf, type Found, type Page } from './pages'
import { texts } from './texts'

const PAGES = pagesOf(
  import.meta.glob<string>('../../../../docs/handbook/*.md', { query: '?raw', import: 'default', eager: true }),
)
const PICTURES = Object.entries(
  import.meta.glob<string>('../../../../docs/screenshots/*.png', { query: '?url', import: 'default', eager: true }),
)

/** What each place is for and what its words mean; a search over all of it. */
export function HandbookPlace() {
  const { page: name = PAGES[0]?.name } = useParams()
  const [by, setBy] = useState('')
  const page = PAGES.find((each) => each.name === name)
  const found = by.trim() === '' ? null : find(PAGES, by)
  return (
    <div
      className={classes(
        'page grid gap-x-12 gap-y-5 py-5 md:grid-cols-[200px_minmax(0,1fr)]',
        'xl:grid-cols-[200px_minmax(0,720px)_minmax(0,1fr)]',
      )}
    >
      <div className="col-span-full">
        <Heading>{texts.title}</Heading>
      </div>
      <div>
        <input
          type="search"
          aria-label={texts.search}
          placeholder={texts.search}
          value={by}
          onChange={(event) => {
            setBy(event.target.value)
          }}
          className="mb-4 w-full typed"
        />
        <nav aria-label={texts.pages} className="flex flex-wrap gap-x-5 gap-y-2 md:flex-col">
          {PAGES.map((each) => (
            <Link
              key={each.name}
              to={`/handbook/${each.name}`}
              aria-current={each === page && found === null ? 'page' : undefined}
              className={each === page && found === null ? 'font-semibold text-ink' : 'link'}
              onClick={() => {
                setBy('')
              }}
            >
              {each.title}
            </Link>
          ))}
        </nav>
      </div>
      {found !== null ? (
        <Results
          found={found}
          onOpen={() => {
            setBy('')
          }}
        />
      ) : page ? (
        <>
          <Text page={page} />
          <Sections page={page} />
        </>
      ) : (
        <p className="text-soft">{texts.noPage}</p>
      )}
    </div>
  )
}

function Results({ found, onOpen }: { found: Found[]; onOpen: () => void }) {
  return (
    <ul aria-label={texts.found} className="max-w-[720px]">
      {found.length === 0 && <li className="text-soft">{texts.nothing}</li>}
      {found.map(({ page, section, words }) => (
        <li key={`${page.name} ${words}`} className="border-t border-rule py-2.5">
          <Link to={`/handbook/${page.name}${section ? `#${section.id}` : ''}`} className="link" onClick={onOpen}>
            {[page.title, section?.title].filter(Boolean).join(', ')}
          </Link>
          <p className="mt-0.5 text-[14px] text-soft">{words}</p>
        </li>
      ))}
    </ul>
  )
}

function Text({ page }: { page: Page }) {
  const navigate = useNavigate()
  const { hash } = useLocation()
  const html = useMemo(() => htmlOf(page.text), [page])
  useEffect(() => {
    const heading = document.getElementById(hash.slice(1))
    if (heading) heading.scrollIntoView()
    else window.scrollTo(0, 0)
  }, [page, hash])
  const follow = (event: MouseEvent) => {
    const link = event.target instanceof Element ? event.target.closest('a') : null
    const to = link?.getAttribute('href')
    if (!to || event.ctrlKey || event.metaKey || event.shiftKey) return
    event.preventDefault()
    void navigate(to)
  }
  return (
    <article className="handbook max-w-[720px]" onClick={follow}>
      <h2>{page.title}</h2>
      {/* our own text, built with the page */}
      <div dangerouslySetInnerHTML={{ __html: html }} />
    </article>
  )
}

/** The headings of a page, beside it where there is room. */
function Sections({ page }: { page: Page }) {
  const sections = sectionsOf(page)
  if (sections.length < 2) return null
  return (
    <nav aria-label={texts.sections} className="sticky top-6 hidden flex-col gap-y-2 self-start text-[14px] xl:flex">
      <span className="text-soft">{texts.sections}</span>
      {sections.map(({ title, id }) => (
        <Link key={id} to={`/handbook/${page.name}#${id}`} className="link self-start">
          {title}
        </Link>
      ))}
    </nav>
  )
}

/** Links lead to pages of the handbook, pictures to those of the documentation. */
function htmlOf(text: string): string {
  return marked.parse(text, {
    async: false,
    walkTokens: (token) => {
      if (token.type === 'link') token.href = `/handbook/${String(token.href).replace(/\.md$/, '')}`
      if (token.type === 'image') {
        const file = String(token.href).split('/').at(-1) ?? ''
        token.href = PICTURES.find(([path]) => path.endsWith(`/${file}`))?.[1] ?? ''
      }
    },
    renderer: Object.assign(new marked.Renderer(), {
      heading: ({ text: words }: { text: string }) => `<h3 id="${idOf(words)}">${words}</h3>`,
    }),
  })
}
