import { useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react'
import { pictureUrl } from '../api/client'
import type { FrameWindow } from '../api/frames'
import { act } from '../keys/keys'
import { classes } from './classes'
import type { Seen } from './Frame'
import { Back, Over } from './Over'
import { Pick } from './Pick'
import { curve, due, nextMark, type Mark, type Run } from './playback'
import { momentWithSeconds } from './words'

const RATES = ['24', '25', '30'] as const
type Rate = (typeof RATES)[number]
/** Pictures that are fetched ahead of the one that is shown, and kept behind it. */
const AHEAD = 60
const KEPT = 120
/** Of frames whose names and pictures are asked for ahead. */
const ASKED = 200
const BAND = 56

interface Props {
  title: string
  frames: FrameWindow<Seen>
  run: Run
  /** The brightness of each of the run's frames, 0 to 1; null where it was not measured. None: no curve. */
  light?: readonly (number | null)[]
  onClose: () => void
}

/** A run as a movie of its small pictures, and beneath it the band on which it is scrubbed. */
export function RunPlayer({ title, frames, run, light = [], onClose }: Props) {
  const { positions, marks } = run
  const [at, setAt] = useState(run.start)
  const place = useRef(run.start)
  const show = (to: number) => {
    place.current = to
    setAt(to)
  }
  const [rate, setRate] = useState<Rate>('25')
  const [plays, setPlays] = useState(true)
  const count = positions.length
  const last = count - 1
  const { want } = frames
  const asked = Math.floor(at / ASKED) * ASKED
  useEffect(() => {
    want(positions[asked] ?? 0, positions[Math.min(last, asked + 2 * ASKED)] ?? 0)
  }, [want, positions, asked, last])
  const urlAt = (index: number): string | null => {
    const picture = frames.at(positions[index] ?? -1)?.picture ?? null
    return picture === null ? null : pictureUrl(320, picture)
  }
  const pictures = usePictures()
  useEffect(() => {
    pictures.fetch(Array.from({ length: AHEAD }, (_, i) => urlAt(at + i)))
  })
  // the clock stands while the next picture is not there yet
  const isReady = useRef<(index: number) => boolean>(() => false)
  useEffect(() => {
    isReady.current = (index) => {
      const frame = frames.at(positions[index] ?? -1)
      return frame !== undefined && (frame.picture === null || pictures.isSettled(pictureUrl(320, frame.picture)))
    }
  })
  useEffect(() => {
    if (!plays) return
    let shown = -1
    let since = 0
    let next = 0
    const tick = (now: number) => {
      if (shown !== place.current) {
        // the first one, or it was begun again
        shown = place.current
        since = now
      }
      const wanted = due(shown, now - since, Number(rate), count)
      let reached = shown
      while (reached < wanted && isReady.current(reached + 1)) reached++
      // what is left of the time counts for the next one, unless it had to be waited for
      since = reached < wanted ? now : since + ((reached - shown) * 1000) / Number(rate)
      if (reached !== shown) show(reached)
      shown = reached
      next = requestAnimationFrame(tick)
    }
    next = requestAnimationFrame(tick)
    return () => {
      cancelAnimationFrame(next)
    }
  }, [plays, rate, count])
  const ended = at === last
  const running = plays && !ended
  const go = (to: number) => {
    setPlays(false)
    show(Math.max(0, Math.min(last, to)))
  }
  const toggle = () => {
    if (ended) show(0)
    setPlays(ended || !plays)
  }
  const toNextMark = () => {
    const mark = nextMark(marks, at)
    if (mark) go(mark.at)
  }
  const frame = frames.at(positions[at] ?? -1)
  const when = frame?.facts.captured_at ? momentWithSeconds(frame.facts.captured_at) : 'no date'
  const here = marks.find((mark) => mark.at === at)
  return (
    <Over
      title={title}
      className="mat fixed inset-0 z-50 flex flex-col text-on-mat outline-none"
      onClose={onClose}
      onKeyDown={(event) => {
        act('run', event, {
          toggle,
          previous: () => {
            go(at - 1)
          },
          next: () => {
            go(at + 1)
          },
          first: () => {
            go(0)
          },
          last: () => {
            go(last)
          },
          nextMark: toNextMark,
        })
      }}
    >
      <Screen
        url={urlAt(at)}
        sharp={!running && frame?.picture ? pictureUrl(1024, frame.picture) : null}
        name={frame?.name ?? ''}
        pictures={pictures}
      />
      <div className="bg-[#2b2b2b] text-[#f2f2f2]">
        <div className="page pt-3 pb-2.5">
          <Scrub at={at} count={count} light={light} marks={marks} when={when} onGo={go} />
          <div className="mt-2 flex min-h-9 flex-wrap items-center gap-x-6 gap-y-1 text-[13px]">
            <button
              type="button"
              className="min-h-8 w-20 rounded border border-[#8c8c8c] px-3 hover:border-white"
              onClick={toggle}
            >
              {running ? 'Pause' : ended ? 'Again' : 'Play'}
            </button>
            <span className="flex items-center gap-1.5 [&_.link]:text-[#f2f2f2]">
              <Pick
                label="Frames a second"
                value={rate}
                choices={RATES.map((value) => ({ value, label: value }))}
                onPick={setRate}
                side="top"
              />
              frames a second, {(count / Number(rate)).toFixed(1)} s long
            </span>
            {marks.length > 0 && (
              <button type="button" className="link text-[#f2f2f2]" onClick={toNextMark}>
                Next mark
              </button>
            )}
            <span className="min-w-0 truncate text-[#d0d0d0]">
              {frame?.name ?? '…'} · {when}
              {here && <strong className="pl-3 font-semibold text-[#e8c877]">{here.words}</strong>}
            </span>
            <span className="ml-auto whitespace-nowrap tabular-nums">
              {(at + 1).toLocaleString('en')} of {count.toLocaleString('en')}
            </span>
            <Back />
          </div>
        </div>
      </div>
    </Over>
  )
}

interface Pictures {
  fetch: (urls: (string | null)[]) => void
  /** Whether it is there, or never will be. */
  isSettled: (url: string) => boolean
  get: (url: string) => HTMLImageElement | undefined
}

/** Pictures that were fetched lately, the newest last. */
function usePictures(): Pictures {
  return useMemo(() => {
    const kept = new Map<string, HTMLImageElement>()
    return {
      fetch: (urls) => {
        for (const url of urls) {
          if (url === null) continue
          const image = kept.get(url) ?? new Image()
          if (image.src === '') image.src = url
          kept.delete(url)
          kept.set(url, image)
        }
        for (const url of [...kept.keys()].slice(0, Math.max(0, kept.size - KEPT))) kept.delete(url)
      },
      isSettled: (url) => kept.get(url)?.complete ?? false,
      get: (url) => kept.get(url),
    }
  }, [])
}

/** The picture, drawn onto a canvas so that none flickers; when it stands still, a larger one over it. */
function Screen({
  url,
  sharp,
  name,
  pictures,
}: {
  url: string | null
  sharp: string | null
  name: string
  pictures: Pictures
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const image = url === null ? undefined : pictures.get(url)
    const draw = () => {
      if (!canvas.current || !image || image.naturalWidth === 0) return
      canvas.current.width = image.naturalWidth
      canvas.current.height = image.naturalHeight
      canvas.current.getContext('2d')?.drawImage(image, 0, 0)
    }
    if (image?.complete) draw()
    else image?.addEventListener('load', draw)
    return () => {
      image?.removeEventListener('load', draw)
    }
  })
  return (
    <div className="relative min-h-0 flex-1 p-5 pb-2">
      <canvas
        ref={canvas}
        role="img"
        aria-label={name}
        className="absolute inset-0 m-auto h-full w-full object-contain p-5 pb-2"
      />
      {sharp !== null && (
        <img
          key={sharp}
          src={sharp}
          alt=""
          className="absolute inset-0 m-auto h-full w-full object-contain p-5 pb-2 opacity-0"
          onLoad={(event) => {
            event.currentTarget.classList.remove('opacity-0')
          }}
        />
      )}
    </div>
  )
}

/** The run from left to right with its brightness, a notch at each mark, and where it is. */
function Scrub({
  at,
  count,
  light,
  marks,
  when,
  onGo,
}: {
  at: number
  count: number
  light: readonly (number | null)[]
  marks: readonly Mark[]
  when: string
  onGo: (to: number) => void
}) {
  const WIDTH = 1000
  const path = useMemo(() => curve(light, WIDTH, BAND - 16), [light])
  const share = (index: number) => (count > 1 ? index / (count - 1) : 0)
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect()
    onGo(Math.round(((event.clientX - box.left) / box.width) * (count - 1)))
  }
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Frame of the run"
      aria-valuemin={1}
      aria-valuemax={count}
      aria-valuenow={at + 1}
      aria-valuetext={`frame ${at + 1} of ${count}, ${when}`}
      className={classes(
        'relative cursor-ew-resize touch-none border border-[#565656] bg-[#1f1f1f]',
        'outline-[#f2f2f2] select-none',
      )}
      style={{ height: BAND }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        drag(event)
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) drag(event)
      }}
    >
      <svg
        viewBox={`0 0 ${WIDTH} ${BAND}`}
        preserveAspectRatio="none"
        width="100%"
        height="100%"
        className="pointer-events-none block"
        aria-hidden
      >
        <path
          d={path}
          transform="translate(0 8)"
          fill="none"
          strokeWidth={1.4}
          vectorEffect="non-scaling-stroke"
          stroke="#dcb45c"
        />
        {marks.map((mark) => (
          <path
            key={`${mark.at} ${mark.words}`}
            d={`M${share(mark.at) * WIDTH} 0V${BAND}`}
            strokeWidth={1.4}
            strokeDasharray="4 3"
            vectorEffect="non-scaling-stroke"
            stroke="#f2f2f2"
          />
        ))}
        <path
          d={`M${share(at) * WIDTH} 0V${BAND}`}
          strokeWidth={2.5}
          vectorEffect="non-scaling-stroke"
          stroke="#ffffff"
        />
      </svg>
    </div>
  )
}
