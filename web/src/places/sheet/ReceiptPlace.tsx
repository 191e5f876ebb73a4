import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { api, receiptUrl, type ReceiptLine, type Sheet } from '../../api/client'
import { Heading } from '../../parts/Heading'
import { Waiting } from '../../parts/Trouble'
import { instant, list } from '../../parts/words'
import { Answer } from '../../parts/MayFormat'
import { proofOf } from '../../parts/may-format'
import { texts } from './texts'

const says = texts.receipt

/**
 * The whole receipt on one page, to read and to print: every file, where from, where to, its digests; what was not
 * copied, and why.
 */
export function ReceiptPlace() {
  const id = Number(useParams().id)
  const sheet = useQuery({ queryKey: ['sheet', id], queryFn: () => api.sheet(id) })
  const receipt = useQuery({ queryKey: ['receipt', id], queryFn: () => api.receipt(id) })
  if (!sheet.data || !receipt.data) return <Waiting error={sheet.error ?? receipt.error} />
  const filed = receipt.data.files.filter((line) => line.state === 'filed')
  const rest = receipt.data.files.filter((line) => line.state !== 'filed')
  const shoots = [...new Set(filed.map((line) => line.shoot))]
  return (
    <div className="page pb-16">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 pt-5 pb-3">
        <Heading>{says.title(id)}</Heading>
        <span className="flex flex-wrap gap-4 print:hidden">
          <Link to={`/sheets/${id}`} className="link">
            {says.pictures}
          </Link>
          <button
            type="button"
            className="link"
            onClick={() => {
              window.print()
            }}
          >
            {says.print}
          </button>
        </span>
      </div>
      <Facts sheet={sheet.data} filed={filed} seal={receipt.data.seal} />
      {shoots.map((shoot) => (
        <Table key={shoot} title={shoot} lines={filed.filter((line) => line.shoot === shoot)} />
      ))}
      {rest.length > 0 && <Rest lines={rest} />}
    </div>
  )
}

function Facts({ sheet, filed, seal }: { sheet: Sheet; filed: ReceiptLine[]; seal: string | undefined }) {
  const { progress } = sheet
  if (!progress) return null
  return (
    <dl className="grid max-w-[110ch] grid-cols-[110px_1fr] gap-y-0.5">
      <dt className="text-soft">{says.takenIn}</dt>
      <dd>
        {says.when(progress.started_at === null ? '' : instant(progress.started_at), progress.seconds)}
        {sheet.state === 'stopped' && says.stopped}
      </dd>
      <dt className="text-soft">{says.from}</dt>
      <dd>{list(sheet.cards.map((card) => card.label))}</dd>
      {rootsOf(filed).map(([root, files], i) => (
        <Place
          key={root}
          word={i === 0 ? says.to : says.andTo}
          root={files === filed.length ? root : says.some(root, files, filed.length)}
        />
      ))}
      <dt className="text-soft">{says.filed}</dt>
      <dd>{says.filedWhat(progress)}</dd>
      {progress.dng && (
        <>
          <dt className="text-soft">{says.raws}</dt>
          <dd>{texts.done.dng(progress.dng)}</dd>
        </>
      )}
      {progress.clearances.map((clearance) => (
        <div key={clearance.id} className="contents">
          <dt className="text-soft">{clearance.card}</dt>
          <dd>
            <Answer clearance={clearance} />
            {clearance.cleared ? `: ${proofOf(clearance)}.` : `: ${clearance.missing.join(' ')}`}{' '}
            <span className="text-soft">{says.looked(instant(new Date().toISOString()))}</span>
          </dd>
        </div>
      ))}
      {seal && (
        <>
          <dt className="text-soft">{says.seal}</dt>
          <dd className="font-mono text-[11px] leading-6 break-all">{seal}</dd>
        </>
      )}
    </dl>
  )
}

/** The places in which files were verified, and how many in each. */
function rootsOf(lines: ReceiptLine[]): [string, number][] {
  const roots = new Map<string, number>()
  for (const line of lines) {
    for (const place of line.places) {
      const root = place.slice(0, -(line.path?.length ?? 0) - 1)
      roots.set(root, (roots.get(root) ?? 0) + 1)
    }
  }
  return [...roots]
}

function Place({ word, root }: { word: string; root: string }) {
  return (
    <>
      <dt className="text-soft">{word}</dt>
      <dd className="wrap-anywhere">{root}</dd>
    </>
  )
}

const HEAD = 'py-1 pr-4 font-normal text-soft'
const CELL = 'py-0.5 pr-4 align-top'

function Table({ title, lines }: { title: string; lines: ReceiptLine[] }) {
  const folder = lines[0]?.path?.split('/').slice(0, -1).join('/') ?? ''
  return (
    <section aria-label={title} className="mt-7">
      <h2 className="text-[20px]">{title}</h2>
      <p className="text-[13px] text-soft">
        {says.files(
          folder,
          lines.length,
          lines.reduce((sum, line) => sum + line.bytes, 0),
        )}
      </p>
      <table className="mt-1 w-full text-left text-[12.5px] print:text-[10.5px]">
        <thead>
          <tr className="border-b border-rule">
            <th className={HEAD}>{says.head[0]}</th>
            <th className={HEAD}>{says.head[1]}</th>
            <th className={`${HEAD} text-right`}>{says.head[2]}</th>
            <th className={HEAD}>{says.head[3]}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={`${line.card}/${line.original}/${line.path}`} className="break-inside-avoid border-b border-rule">
              <td className={`${CELL} wrap-anywhere`}>
                {line.card} {line.original}
              </td>
              <td className={CELL}>
                <span className="wrap-anywhere">{line.path?.slice(folder === '' ? 0 : folder.length + 1)}</span>
                {line.note !== '' && <span className="block text-soft">{line.note}</span>}
              </td>
              <td className={`${CELL} text-right whitespace-nowrap`}>{line.bytes.toLocaleString('en')}</td>
              <td className={`${CELL} font-mono text-[11px] break-all print:text-[9px]`}>
                {line.digest}
                {line.second_digest && <span className="block">{line.second_digest}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Rest({ lines }: { lines: ReceiptLine[] }) {
  return (
    <section aria-label={says.notCopied} className="mt-7">
      <h2 className="text-[20px]">{says.notCopied}</h2>
      <table className="mt-1 w-full text-left text-[12.5px] print:text-[10.5px]">
        <thead>
          <tr className="border-b border-rule">
            {says.notCopiedHead.map((word) => (
              <th key={word} className={HEAD}>
                {word}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={`${line.card}/${line.original}/${line.state}`} className="break-inside-avoid border-b border-rule">
              <td className={`${CELL} wrap-anywhere`}>
                {line.card} {line.original}
              </td>
              <td className={`${CELL} whitespace-nowrap ${line.state === 'failed' ? 'font-semibold text-brass' : ''}`}>
                {says.states[line.state] ?? line.state}
              </td>
              <td className={CELL}>{line.note}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

const FILES = [
  ['csv', 'CSV'],
  ['json', 'JSON'],
  ['mhl', 'ASC MHL'],
  ['xxh128', 'XXH128'],
  ['sha256', 'SHA-256'],
  ['b2', 'BLAKE2b'],
] as const

/** Links to the receipt as a page to print and as files; or, of one entry, its lists of checksums. */
export function ReceiptLinks({ sheet, entry }: { sheet: Pick<Sheet, 'id' | 'second_digest'>; entry?: number }) {
  const second = { sha256: 'sha256', blake2b: 'b2', none: null }[sheet.second_digest ?? 'none']
  const offered = FILES.filter(
    ([format]) =>
      format === 'xxh128' || format === second || (entry === undefined && format !== 'sha256' && format !== 'b2'),
  )
  return (
    <span className="flex flex-wrap gap-x-3.5 text-[13px] text-soft">
      {entry === undefined ? (
        <Link to={`/sheets/${sheet.id}/receipt`} className="link">
          {says.all}
        </Link>
      ) : (
        says.checksums
      )}
      {offered.map(([format, name]) => (
        <a key={format} href={receiptUrl(sheet.id, format, entry)} download className="link">
          {name}
        </a>
      ))}
    </span>
  )
}
