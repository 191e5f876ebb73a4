import { useQuery } from '@tanstack/react-query'
import { BookOpen, Moon, Sun } from 'lucide-react'
import { Link, NavLink, useLocation } from 'react-router'
import { api, type Bays } from '../api/client'
import { classes } from './classes'
import { useEndNotice } from './notices'
import { isOver, stageOf } from './stage'
import { useTheme } from './theme'
import { bytes, list, plural } from './words'
import { Filling } from './Filling'

const PLACES = [
  ['/bays', 'Bays'],
  ['/shoots', 'Shoots'],
  ['/ledger', 'Ledger'],
  ['/house-style', 'House style'],
] as const

/** The slim band at the top of every page: the four places, the work under way, the drives' free space. */
export function Band() {
  const bays = useQuery({ queryKey: ['bays'], queryFn: api.bays })
  const [theme, turn] = useTheme()
  const { pathname } = useLocation()
  return (
    <header
      data-band
      className={classes(
        'page sticky top-0 z-30 flex h-12 items-center gap-7 border-b border-rule bg-paper',
        'max-sm:static max-sm:h-auto max-sm:flex-wrap max-sm:gap-y-0 max-sm:pt-2',
      )}
    >
      <Link to="/bays" className="serif text-[19px] whitespace-nowrap text-velvet">
        Velvet Ledger
      </Link>
      <nav aria-label="Places" className="flex h-full gap-1 max-sm:order-last max-sm:-mx-3 max-sm:h-10 max-sm:w-full">
        {PLACES.map(([path, name]) => {
          const here = pathname.startsWith(path) || (path === '/bays' && pathname.startsWith('/sheets'))
          return (
            <NavLink
              key={path}
              to={path}
              aria-current={here ? 'page' : undefined}
              className={classes(
                'flex items-center border-b-2 px-3 pt-0.5 whitespace-nowrap max-sm:px-2.5',
                here ? 'border-velvet font-semibold text-ink' : 'border-transparent text-soft hover:text-ink',
              )}
            >
              {name}
            </NavLink>
          )
        })}
      </nav>
      <div className="ml-auto flex items-center gap-5 text-[13px] text-soft">
        {bays.data && <Work bays={bays.data} />}
        {bays.data && <Drives bays={bays.data} />}
        <span className="flex gap-1">
          <Link
            to="/handbook"
            className="grid size-8 place-items-center rounded text-soft hover:text-ink"
            aria-label="Handbook"
            title="Handbook; ? shows the keys"
          >
            <BookOpen size={16} />
          </Link>
          <button
            type="button"
            onClick={turn}
            className="grid size-8 place-items-center rounded text-soft hover:text-ink"
            aria-label={theme === 'day' ? 'Evening theme' : 'Day theme'}
            title={theme === 'day' ? 'Evening theme' : 'Day theme'}
          >
            {theme === 'day' ? <Moon size={16} /> : <Sun size={16} />}
          </button>
        </span>
      </div>
    </header>
  )
}

function Work({ bays }: { bays: Bays }) {
  const reading = bays.cards.find((card) => card.state === 'reading' || card.state === 'waiting')
  const copying = bays.under_way
  useEndNotice(copying)
  const sheet = useQuery({
    queryKey: ['sheet', copying ?? 0],
    queryFn: () => api.sheet(copying ?? 0),
    enabled: copying !== null,
  })
  const progress = sheet.data?.progress
  // the bays may be told of its end a moment later than the sheet
  if (sheet.data && copying !== null && progress && !isOver(sheet.data.state)) {
    const { converts, share } = stageOf(progress)
    const paused = sheet.data.state === 'paused'
    const stage = progress.halted ? 'Halted' : paused ? 'Paused' : converts ? 'Converting' : 'Copying'
    const labels = list(sheet.data.cards.map((card) => card.label))
    return (
      <Link to={`/sheets/${copying}`} className="flex items-center gap-2 text-ink" title={progress.halted ?? undefined}>
        <span className={`max-lg:hidden ${progress.halted ? 'font-semibold text-brass' : ''}`}>
          {stage} {labels}
        </span>
        <Filling className="h-1 w-24" share={share} label={`Copying ${labels}`} />
        <span>{Math.floor(share * 100)} %</span>
      </Link>
    )
  }
  if (reading) {
    return (
      <span className="flex items-center gap-2">
        <span className="max-lg:hidden">Reading {reading.label}</span>
        <Filling
          className="h-1 w-24"
          share={reading.frames === 0 ? 0 : reading.frames_read / reading.frames}
          label={`Reading ${reading.label}`}
        />
      </span>
    )
  }
  if (bays.to_convert > 0)
    return <span className="whitespace-nowrap">Converting {plural(bays.to_convert, 'raw file')}</span>
  if (bays.to_write > 0) return <span className="whitespace-nowrap">Writing into {plural(bays.to_write, 'file')}</span>
  const look = bays.first_look
  if (look && look.open > 0) {
    return (
      <Link
        to={`/shoots/${look.shoot}/first-look`}
        className="link leading-6 max-lg:hidden"
        title={`First look: ${look.name}`}
      >
        {plural(look.open, 'frame')} to judge
      </Link>
    )
  }
  return <span className="max-lg:hidden">Nothing under way</span>
}

function Drives({ bays }: { bays: Bays }) {
  const places = bays.shelves[0]?.places ?? []
  if (places.length === 0) return null
  return (
    <span className="flex gap-4 whitespace-nowrap max-md:hidden">
      {places.map((place) => (
        <span key={place.root} title={place.root}>
          {place.role === 'shelf' ? bays.shelves[0]?.name : 'Twin'}{' '}
          {place.free === null ? (
            <strong className="font-semibold text-brass">not connected</strong>
          ) : (
            <>
              <strong className="font-semibold text-ink">{bytes(place.free)}</strong> free
            </>
          )}
        </span>
      ))}
    </span>
  )
}
