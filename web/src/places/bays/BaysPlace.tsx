import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { api, type Bays, type Card, type Shelf } from '../../api/client'
import { Filling } from '../../parts/Filling'
import { Heading } from '../../parts/Heading'
import { classes } from '../../parts/classes'
import { Answer, Reasons } from '../../parts/MayFormat'
import { proofOf } from '../../parts/may-format'
import { Picture } from '../../parts/Picture'
import { Nothing, Trouble, Waiting } from '../../parts/Trouble'
import { bytes, days } from '../../parts/words'
import { texts } from './texts'

const ShelfForm = lazy(async () => ({ default: (await import('./ShelfForm')).ShelfForm }))

/** The cards that are in, and the shelves beneath them. A card that is put in appears by itself. */
export function BaysPlace() {
  const bays = useQuery({ queryKey: ['bays'], queryFn: api.bays })
  const [together, setTogether] = useState<ReadonlySet<number>>(new Set())
  if (!bays.data) return <Waiting error={bays.error} />
  const ready = bays.data.cards.filter((card) => card.state === 'read')
  const chosen = ready.filter((card) => together.has(card.id))
  return (
    <div className="page pb-16">
      <div className="flex min-h-[66px] items-baseline gap-4 pt-5 pb-3">
        <Heading>{texts.title}</Heading>
        <p className="text-soft">{texts.cards(bays.data.cards.length)}</p>
        {chosen.length > 1 && <Together cards={chosen} />}
      </div>
      {bays.data.camera_unseen && (
        <p role="status" className="border-t border-rule py-3">
          {texts.cameraUnseen}
        </p>
      )}
      {bays.data.cards.length === 0 ? (
        <Empty bays={bays.data} />
      ) : (
        bays.data.cards.map((card) => (
          <CardRow
            key={card.id}
            card={card}
            together={ready.length > 1 && card.state === 'read' ? together.has(card.id) : null}
            onTogether={() => {
              setTogether(
                (now) => new Set(now.has(card.id) ? [...now].filter((id) => id !== card.id) : [...now, card.id]),
              )
            }}
          />
        ))
      )}
      {bays.data.away.map((card) => (
        <p key={card.id} className="border-t border-rule py-3">
          <strong className="font-semibold">{card.label}</strong> {texts.away(card)}
        </p>
      ))}
      {bays.data.tray !== null && bays.data.tray.length > 0 && <Tray labels={bays.data.tray} />}
      <Shelves shelves={bays.data.shelves} />
    </div>
  )
}

function Empty({ bays }: { bays: Bays }) {
  return (
    <Nothing title={texts.none.title}>
      <p>{texts.none.about}</p>
      <ul className="mt-2">
        {bays.roots.map((root) => (
          <li key={root} className="wrap-anywhere text-ink">
            {root}
          </li>
        ))}
      </ul>
    </Nothing>
  )
}

/** Several cards on one sheet: their frames fall into the same entries by time. */
function Together({ cards }: { cards: Card[] }) {
  const navigate = useNavigate()
  const open = useMutation({
    meta: { inPlace: true },
    mutationFn: () => api.openSheet(cards.map((card) => card.id)),
    onSuccess: ({ id }) => {
      void navigate(`/sheets/${id}`)
    },
  })
  return (
    <span className="ml-auto flex items-baseline gap-4">
      {open.error && (
        <span role="alert" className="text-brass">
          {open.error.message}
        </span>
      )}
      <button
        type="button"
        className="button button-main"
        disabled={open.isPending}
        onClick={() => {
          open.mutate()
        }}
      >
        {texts.card.oneSheet(cards.map((card) => card.label))}
      </button>
    </span>
  )
}

function CardRow({ card, together, onTogether }: { card: Card; together: boolean | null; onTogether: () => void }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const eject = useMutation({
    meta: { inPlace: true },
    mutationFn: () => api.eject(card.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ['bays'] }),
  })
  const open = useMutation({
    meta: { inPlace: true },
    mutationFn: () => api.openSheet([card.id]),
    onSuccess: ({ id }) => {
      void queries.invalidateQueries({ queryKey: ['bays'] })
      void navigate(`/sheets/${id}`)
    },
  })
  const underWay = card.sheet !== null && card.sheet_state !== null && card.sheet_state !== 'sheet'
  return (
    <section aria-label={texts.card.label(card.label)} className="border-t border-rule py-4">
      <div
        className={classes(
          'grid grid-cols-[190px_minmax(0,1fr)_96px_120px_190px_132px] items-center gap-x-6',
          'max-xl:grid-cols-[150px_minmax(0,1fr)_88px_104px_168px_124px] max-xl:gap-x-4',
          'max-md:grid-cols-[minmax(0,1fr)_auto_auto] max-md:gap-y-3',
        )}
      >
        <div className="min-w-0">
          <h2 className="truncate text-[21px]" title={card.label}>
            {card.label}
          </h2>
          <div className="text-[13px] text-soft">
            {card.first && card.last ? days(card.first, card.last) : card.state === 'read' ? texts.card.undated : ''}
          </div>
          {together !== null && (
            <label className="mr-4 inline-flex min-h-6 items-center align-middle gap-1.5 text-[13px] text-soft">
              <input
                type="checkbox"
                checked={together}
                onChange={onTogether}
                aria-label={texts.card.together(card.label)}
              />
              {texts.card.combine}
            </label>
          )}
          {card.ejectable && (
            <button
              type="button"
              className="link align-middle text-[13px]"
              disabled={eject.isPending}
              onClick={() => {
                eject.mutate()
              }}
            >
              {texts.card.eject}
            </button>
          )}
        </div>
        <div className="mat strip h-[76px] max-md:order-1 max-md:col-span-3">
          {card.pictures.map((picture) => (
            <Picture key={picture} fingerprint={picture} name={card.label} height={64} />
          ))}
        </div>
        <Amount value={card.frames.toLocaleString('en')} unit={texts.card.frames} />
        <Amount value={bytes(card.bytes)} unit={texts.card.beside(card)} />
        <div className="max-md:order-2 max-md:col-span-2">
          <CardAnswer card={card} />
        </div>
        <div className="text-right max-md:order-3">
          <button
            type="button"
            className={`button ${card.clearance?.cleared === true ? '' : 'button-main'}`}
            disabled={card.state !== 'read' || open.isPending}
            onClick={() => {
              open.mutate()
            }}
          >
            {underWay ? texts.card.intake : texts.card.sheet}
          </button>
        </div>
      </div>
      {card.clearance && !card.clearance.cleared && (
        <p className="mt-2 text-[13px] text-soft" data-reasons>
          <Answer clearance={card.clearance} />: <Reasons card={card.id} clearance={card.clearance} />
        </p>
      )}
      {card.problem && (
        <div className="mt-3">
          <Trouble>{card.problem}</Trouble>
        </div>
      )}
      {[open.error, eject.error].map(
        (error) =>
          error && (
            <div key={error.message} className="mt-3">
              <Trouble>{error.message}</Trouble>
            </div>
          ),
      )}
    </section>
  )
}

function Amount({ value, unit }: { value: string; unit: string }) {
  return (
    <div className="text-right whitespace-nowrap">
      <div className="text-[18px] leading-tight font-semibold">{value}</div>
      <div className="text-[13px] text-soft">{unit}</div>
    </div>
  )
}

/** The answer to the question that matters: may this card be formatted? */
function CardAnswer({ card }: { card: Card }) {
  if (card.state === 'waiting' || card.state === 'reading') {
    return (
      <div>
        <div className="mb-1.5 text-[13px]">{texts.card.reading(card)}</div>
        <Filling
          className="h-1 w-full"
          share={card.frames === 0 ? 0 : card.frames_read / card.frames}
          label={texts.card.readingLabel(card.label)}
        />
      </div>
    )
  }
  if (card.state === 'unreadable') return <div className="font-semibold text-brass">{texts.card.unreadable}</div>
  if (card.clearance?.cleared) {
    return (
      <div>
        <div>
          <Answer clearance={card.clearance} />
        </div>
        <div className="text-[13px] text-soft">{proofOf(card.clearance)}</div>
      </div>
    )
  }
  const leftOut = card.clearance?.left_out ?? 0
  return (
    <div>
      <div className="font-semibold">{card.new === leftOut ? texts.card.nothingNew : texts.card.fresh(card.new)}</div>
      <div className="text-[13px] text-soft">
        {card.new === leftOut
          ? texts.card.allFiled(card.frames - card.new)
          : card.frames > card.new
            ? texts.card.someFiled(card.frames - card.new)
            : texts.card.noneFiled}
      </div>
    </div>
  )
}

/** The demo's tray: cards that lie beside the bay. */
function Tray({ labels }: { labels: string[] }) {
  const queries = useQueryClient()
  const move = useMutation({
    meta: { inPlace: true },
    mutationFn: (label: string) => api.putInDemoCard(label),
    onSettled: () => queries.invalidateQueries({ queryKey: ['bays'] }),
  })
  return (
    <section
      aria-label={texts.tray.label}
      className="flex flex-wrap items-center gap-x-5 gap-y-2 border-y border-dashed border-rule-strong py-3 text-soft"
    >
      <span>{texts.tray.cards}</span>
      {labels.map((label) => (
        <span key={label} className="flex items-center gap-2">
          <strong className="font-semibold text-ink">{label}</strong>
          <button
            type="button"
            className="button"
            onClick={() => {
              move.mutate(label)
            }}
          >
            {texts.tray.putIn}
          </button>
        </span>
      ))}
      {move.error && <span>{move.error.message}</span>}
    </section>
  )
}

function Shelves({ shelves }: { shelves: Shelf[] }) {
  // a sheet that has no shelf to copy to leads here
  const [editing, setEditing] = useState<Shelf | 'new' | null>(useLocation().hash === '#shelf' ? 'new' : null)
  const done = () => {
    setEditing(null)
  }
  return (
    <section aria-label={texts.shelves.title} className="mt-10">
      <div className="mb-2 flex items-baseline gap-5">
        <h2 className="text-[21px]">{texts.shelves.title}</h2>
        <button
          type="button"
          className="link"
          onClick={() => {
            setEditing('new')
          }}
        >
          {texts.shelves.add}
        </button>
      </div>
      {editing !== null && (
        <Suspense>
          <ShelfForm
            key={editing === 'new' ? 'new' : editing.id}
            {...(editing === 'new' ? {} : { shelf: editing })}
            onDone={done}
          />
        </Suspense>
      )}
      {shelves.length === 0 ? (
        <p className="text-soft">{texts.shelves.none}</p>
      ) : (
        <table className="w-full border-t border-rule text-left">
          <tbody>
            {shelves.flatMap((shelf) =>
              shelf.places.map((place) => (
                <tr
                  key={place.root}
                  className="border-b border-rule max-md:flex max-md:flex-wrap max-md:items-baseline"
                >
                  <th
                    scope="row"
                    className="w-[214px] py-2.5 pr-6 font-semibold whitespace-nowrap max-md:w-auto max-md:pb-0.5"
                  >
                    {place.role === 'shelf' ? (
                      <>
                        {shelf.name}
                        <button
                          type="button"
                          className="ml-3 link text-[13px] font-normal"
                          aria-label={texts.shelves.changeOf(shelf.name)}
                          onClick={() => {
                            setEditing(shelf)
                          }}
                        >
                          {texts.shelves.change}
                        </button>
                      </>
                    ) : (
                      <span className="font-normal text-soft">{texts.shelves.twin}</span>
                    )}
                  </th>
                  <td
                    className={classes(
                      'pr-6 wrap-anywhere text-soft',
                      'max-md:order-last max-md:w-full max-md:pb-2 max-md:text-[13px]',
                    )}
                  >
                    {place.root}
                    {place.role === 'twin' && shelf.same_drive && (
                      <span className="block break-normal text-brass">{texts.shelves.sameDrive}</span>
                    )}
                  </td>
                  <td className="w-[190px] pr-6 max-md:hidden">
                    {place.free !== null && place.total !== null && <Fullness free={place.free} total={place.total} />}
                  </td>
                  <td className="w-[170px] text-right whitespace-nowrap max-md:ml-auto">
                    {place.free === null ? (
                      <span className="font-semibold text-brass">{texts.shelves.away}</span>
                    ) : !place.writable ? (
                      <span className="font-semibold text-brass">{texts.shelves.readOnly}</span>
                    ) : (
                      <>
                        <strong className="font-semibold">{bytes(place.free)}</strong> {texts.shelves.free}
                      </>
                    )}
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      )}
    </section>
  )
}

function Fullness({ free, total }: { free: number; total: number }) {
  const used = total === 0 ? 0 : 1 - free / total
  return (
    <span className="block h-1.5 bg-rule" role="img" aria-label={texts.shelves.full(used)}>
      <span className="block h-full bg-soft" style={{ width: `${used * 100}%` }} />
    </span>
  )
}
