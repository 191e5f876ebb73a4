import { useEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { Link, useNavigate } from 'react-router'
import type { Judgement, Verdict } from '../../api/client'
import { useKeys } from '../../keys/useKeys'
import { beside, MOST_BESIDE } from '../../model/beside'
import type { Place } from '../../model/closer'
import { partAt } from '../../model/passes'
import {
  countsOf,
  FILTERS,
  groupOf,
  isForOne,
  oneOf,
  onward,
  saysOtherwise,
  tabbing,
  takingOver,
} from '../../model/pass'
import { classes } from '../../parts/classes'
import { useTabs } from '../../parts/TabMarks'
import { Pick } from '../../parts/Pick'
import { Refusal, Waiting } from '../../parts/Trouble'
import { useWho } from '../../parts/who'
import { fetchAhead, fetchFor, REST } from '../../stage/ahead'
import { useLight } from '../../stage/useLight'
import { wholeAhead } from '../../stage/wholes'
import { usePass } from '../../store/judging'
import { LightPanel } from './LightPanel'
import { NarrowRow } from './NarrowRow'
import { Neighbours } from './Neighbours'
import { Panes } from './Panes'
import { PassTape } from './PassTape'
import { texts } from './texts'
import { useFold } from './useFold'
import { useLookedAt } from './useLookedAt'
import { usePassFrames } from './usePassFrames'
import { usePassFilter } from './usePassFilter'
import { VerdictLine } from './VerdictLine'
import { WhoField } from './WhoField'

/** Fetched when one stays with a frame, as large as they will be shown; and one further out. */
const AHEAD = [1, -1, 2]
const FURTHER = 3
/** Small ones, fetched at once: for who holds the arrow down. */
const NEAR = [1, 2, 3, 4, 5, 6, 7, 8, -1, -2, -3, -4]

/** What was pressed by a pointer does not take the space bar from the page; by a key it has been reached on purpose. */
function leaveToKeys({ detail, target }: MouseEvent) {
  const pressed = target instanceof Element && target.closest<HTMLElement>('button:not([role=combobox]), input')
  if (detail > 0 && pressed) pressed.blur()
}

const NONE: readonly { from: number; name: string }[] = []

const GOES_ON = 'velvet-first-look-stays'

/** The first look: every frame large, a verdict by one key, and the tape of the pass beneath as the map. */
export function FirstLookPlace() {
  const { at: lookedAt, error: notFound } = useLookedAt()
  const tabs = useTabs()
  const [isTabsOpen, setIsTabsOpen] = useState(false)
  const { pass, error, refused, judge, undo, redo } = usePass(lookedAt?.shoots ?? [], lookedAt?.intake)
  const through = usePassFilter(pass)
  const { filter } = through
  const fold = useFold(pass, through.positions)
  const { positions, judgedWith } = fold
  const [isNarrowOpen, setIsNarrowOpen] = useState(false)
  const [at, setAt] = useState<number | null>(null)
  const [goesOn, setGoesOn] = useState(() => localStorage.getItem(GOES_ON) === null)
  // where every pixel is looked at; it stays from frame to frame
  const [closer, setCloser] = useState<Place | null>(null)
  const [besides, setBesides] = useState(1)
  const [isLightShown, setIsLightShown] = useState(false)
  const stage = useRef<HTMLDivElement>(null)
  const leave = useNavigate()
  const frames = pass?.frames
  const counts = useMemo(() => countsOf(frames ?? []), [frames])
  const who = useWho()
  const isOfSeveral = useMemo(
    () => frames?.some(({ by, beside }) => beside.length > 0 || (by !== null && by !== who)) ?? false,
    [frames, who],
  )
  const firstOpen = () => Math.max(0, frames?.findIndex((frame) => frame.verdict === 'open') ?? 0)
  const meant = at !== null && through.positions.includes(at) ? at : through.isEvery ? firstOpen() : positions[0]
  const position = meant === undefined ? undefined : fold.shown(meant)
  const place = position === undefined ? -1 : positions.indexOf(position)
  const current = position === undefined ? undefined : frames?.[position]
  const window = usePassFrames(pass, tabs)
  const { want } = window
  const isCloser = closer !== null
  useEffect(() => {
    if (position !== undefined) want(position)
    const at = (by: number) => frames?.[positions[place + by] ?? -1]?.picture ?? null
    const fetch = (by: number, how: (picture: string) => Promise<void>) => {
      const picture = at(by)
      if (picture !== null) how(picture).catch(() => undefined)
    }
    for (const by of NEAR) fetch(by, (picture) => fetchAhead(320, picture))
    const rest = setTimeout(() => {
      for (const by of AHEAD) fetch(by, (picture) => fetchFor(picture, stage.current?.querySelector('img') ?? null))
      fetch(FURTHER, (picture) => fetchAhead(1024, picture))
      const next = at(1)
      if (isCloser && next !== null) wholeAhead(next)
    }, REST)
    return () => {
      clearTimeout(rest)
    }
  }, [want, frames, positions, position, place, isCloser])
  const seen = position === undefined ? undefined : window.at(position)
  // what a verdict is for: the frame, or all of a folded group
  const hand = useMemo(() => (position === undefined ? [] : judgedWith(position)), [position, judgedWith])
  const handful = useMemo(() => {
    const of = new Set(hand)
    return countsOf(of.size > 1 ? (frames?.filter((frame) => of.has(frame.id)) ?? []) : current ? [current] : [])
  }, [frames, hand, current])
  const group = useMemo(() => (pass && current ? groupOf(pass.groups, current.id) : null), [pass, current])

  const beginnings = useMemo(
    () =>
      pass && lookedAt && lookedAt.shoots.length > 1
        ? pass.parts.map(({ shoot, from }) => ({ from, name: lookedAt.nameOf(shoot) }))
        : NONE,
    [pass, lookedAt],
  )
  const row = useMemo(() => {
    const of = new Set(group?.frames)
    return group && besides > 1 ? positions.filter((one) => of.has(frames?.[one]?.id ?? 0)) : positions
  }, [group, positions, frames, besides])
  const shown = position === undefined ? [] : beside(row, row.indexOf(position), besides)
  const light = useLight(isLightShown ? (current?.picture ?? null) : null)

  const move = (by: number) => {
    setAt(positions[Math.max(0, Math.min(positions.length - 1, place + by))] ?? null)
  }
  const goOn = (judged: readonly number[]) => {
    if (position === undefined || !frames || !goesOn) return
    setAt(onward(frames, positions, position, new Set(judged)))
  }
  const give = (judgement: Judgement) => {
    setAt(position ?? null)
    judge(judgement)
    if (judgement.verdict && judgement.verdict !== 'open') goOn([...judgement.frames, ...(judgement.struck ?? [])])
  }
  const say = (verdict: Verdict) => {
    if (current) give({ frames: hand, verdict })
    if (verdict === 'open') move(1)
  }
  const sayOfGroup = (verdict: Verdict) => {
    if (current) give({ frames: group?.frames ?? [current.id], verdict })
  }
  const tab = (id: number, isGroup: boolean) => {
    const meant = new Set(isGroup && group ? group.frames : hand)
    judge(tabbing(frames?.filter((frame) => meant.has(frame.id)) ?? [], id))
  }
  const rotate = (to: 'right' | 'left') => {
    if (!current) return
    setAt(position ?? null)
    judge({ frames: [current.id], rotate: to })
  }
  const goTo = (frame: number) => {
    const there = frames?.findIndex((one) => one.id === frame) ?? -1
    if (there < 0) return
    if (!through.positions.includes(there)) through.all()
    setAt(there)
  }
  const sharpest = group?.sharpest ?? null
  const toggleCloser = () => {
    if (closer !== null || !current) {
      setCloser(null)
      return
    }
    const [x, y] = (stage.current?.querySelector<HTMLElement>('[data-at]')?.dataset.at ?? '').split(' ').map(Number)
    const [across = 0.5, down = 0.5] = seen?.facts.focus ?? []
    setCloser(x !== undefined && y !== undefined ? { x, y } : { x: across, y: down })
  }
  const acts: Parameters<typeof useKeys<'pass'>>[1] = {
    tabs: () => {
      setIsTabsOpen(true)
    },
    keep: () => {
      say('kept')
    },
    strike: () => {
      say('struck')
    },
    open: () => {
      say('open')
    },
    keepGroup: () => {
      sayOfGroup('kept')
    },
    strikeGroup: () => {
      sayOfGroup('struck')
    },
    oneOfGroup:
      isForOne(group) && current
        ? () => {
            give(oneOf(group, current.id))
          }
        : undefined,
    sharpest:
      sharpest === null
        ? undefined
        : () => {
            goTo(sharpest)
          },
    stars: ({ key }) => {
      if (current) judge({ frames: hand, stars: Number(key) })
    },
    previous: () => {
      move(-1)
    },
    next: () => {
      move(1)
    },
    first: () => {
      move(-positions.length)
    },
    last: () => {
      move(positions.length)
    },
    nextOpen: () => {
      if (position !== undefined && frames) setAt(onward(frames, positions, position))
    },
    closer: toggleCloser,
    fold: () => {
      if (fold.isFolded && group) fold.toggle(group)
      else fold.fold(!fold.isFolded)
    },
    another: () => {
      if (group && hand.length > 1) fold.toggle(group)
      setBesides((now) => Math.min(MOST_BESIDE, now + 1))
    },
    oneLess: () => {
      setBesides((now) => Math.max(1, now - 1))
    },
    light: () => {
      setIsLightShown((now) => !now)
    },
    rotateRight: () => {
      rotate('right')
    },
    rotateLeft: () => {
      rotate('left')
    },
    undo,
    redo,
    redoToo: redo,
    leave: () => {
      if (closer !== null) setCloser(null)
      else if (lookedAt) void leave(lookedAt.back.to)
    },
  }
  useKeys('pass', isTabsOpen ? {} : acts) // letters are those of tabs then
  const choices = useMemo(() => {
    const words = texts.filters(counts)
    return FILTERS.map((value) => ({ value, label: words[value] }))
  }, [counts])
  if (!lookedAt || !pass || !frames) return <Waiting error={notFound ?? error} />
  const whose = through.narrowing.mark
  const marked =
    whose === undefined
      ? []
      : positions
          .flatMap((one) => frames[one] ?? [])
          .filter((frame) => frame.beside.some((mark) => mark.by === whose && saysOtherwise(frame, mark)))
  const shoot = partAt(pass, position ?? 0)?.shoot
  const inShoot = shoot !== undefined && lookedAt.shoots.length > 1 ? lookedAt.nameOf(shoot) : null
  return (
    <div className="flex h-dvh min-h-[480px] flex-col" onClick={leaveToKeys}>
      <header className="desk page flex flex-wrap items-center gap-x-4 gap-y-0.5 border-b border-desk-rule py-1.5">
        <title>{`${texts.title(lookedAt.name)} · Velvet Ledger`}</title>
        <Link to={lookedAt.back.to} className="link text-[13px]" aria-label={lookedAt.back.label}>
          {lookedAt.back.word}
        </Link>
        <h1 className="text-[20px]">
          <span className="sr-only">{texts.titleBefore} </span>
          {lookedAt.name}
        </h1>
        {inShoot !== null && <span className="min-w-0 truncate max-md:hidden">{inShoot}</span>}
        <span className="text-desk-soft">
          {texts.through}{' '}
          <Pick
            label={texts.through}
            value={filter}
            choices={choices}
            onPick={(value) => {
              through.pick(value)
              setAt(value === 'every' ? (position ?? null) : null)
            }}
          />
          <button
            type="button"
            className="link ml-4"
            aria-expanded={isNarrowOpen}
            onClick={() => {
              setIsNarrowOpen(!isNarrowOpen)
              if (isNarrowOpen) through.widen()
            }}
          >
            {isNarrowOpen ? texts.widen : texts.narrow}
          </button>
        </span>
        <span className="text-desk-soft">
          <WhoField />
        </span>
        <p className="ml-auto flex gap-x-4" role="status">
          <span className="text-desk-soft max-md:hidden">{texts.judged(counts)}</span>
          {counts.open === 0 && counts.struck > 0 && shoot !== undefined && (
            <Link to={`/shoots/${shoot}/set-aside`} className="link whitespace-nowrap">
              {texts.setAside}
            </Link>
          )}
          {(['kept', 'struck', 'open'] as const).map((verdict) => (
            <b key={verdict} className="font-semibold whitespace-nowrap">
              {counts[verdict].toLocaleString('en')} {verdict}
            </b>
          ))}
        </p>
      </header>
      {isNarrowOpen && (
        <NarrowRow
          pass={pass}
          frames={through.wide()}
          tabs={tabs}
          narrowing={through.narrowing}
          others={marked.length}
          onTakeOver={() => {
            for (const judgement of takingOver(marked, through.narrowing.mark ?? '')) judge(judgement)
          }}
          count={through.positions.length}
          onNarrow={(by, value) => {
            through.narrow(by, value)
            setAt(null)
          }}
        />
      )}
      <Refusal of={refused} />
      <div className="mat relative min-h-0 flex-1 text-on-mat">
        {current && besides === 1 && (
          <Neighbours
            frames={frames}
            tabs={tabs}
            before={positions.slice(Math.max(0, place - 2), Math.max(0, place))}
            after={positions.slice(place + 1, place + 3)}
            onGo={setAt}
          />
        )}
        <div ref={stage} className={classes('absolute inset-0', besides === 1 && 'xl:inset-x-[204px]')}>
          {current && position !== undefined ? (
            <Panes
              frames={frames}
              shown={shown}
              position={position}
              facts={window.at}
              closer={closer}
              onCloser={setCloser}
              onHand={setAt}
              lines={light?.lines ?? null}
            />
          ) : (
            <p className="grid h-full place-items-center">{texts.nothing[filter]}</p>
          )}
        </div>
        {current && isLightShown && <LightPanel light={light?.light ?? null} isAboveCaption={shown.length > 1} />}
      </div>
      <section aria-label={texts.verdict} className="desk page relative border-t border-desk-rule pt-2 pb-2.5">
        {current && position !== undefined && (
          <VerdictLine
            frame={current}
            number={position + 1}
            seen={seen}
            group={group}
            hand={hand}
            handful={handful}
            fold={fold}
            tabs={tabs}
            isTabsOpen={isTabsOpen}
            onTabsOpen={setIsTabsOpen}
            onTab={tab}
            counts={counts}
            isOfSeveral={isOfSeveral}
            goesOn={goesOn}
            onGoesOn={(now) => {
              setGoesOn(now)
              if (now) localStorage.removeItem(GOES_ON)
              else localStorage.setItem(GOES_ON, 'yes')
            }}
            onJudge={give}
            onGo={goTo}
            isCloser={isCloser}
            onCloser={toggleCloser}
            besides={besides}
            onBesides={setBesides}
            isLightShown={isLightShown}
            onLight={setIsLightShown}
            onRotate={rotate}
            undo={pass.undo === null ? null : { what: pass.undo, act: undo }}
            redo={pass.redo === null ? null : { what: pass.redo, act: redo }}
          />
        )}
        <PassTape frames={frames} groups={pass.groups} shoots={beginnings} position={position ?? 0} onGo={setAt} />
      </section>
    </div>
  )
}
