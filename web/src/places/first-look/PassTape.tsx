import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react'
import { pictureUrl, type PassFrame, type PassGroup } from '../../api/client'
import { starsOf } from '../../model/pass'
import { barOf, passTape, positionAt, type Bar } from '../../model/pass-tape'
import { classes } from '../../parts/classes'
import { useTheme } from '../../parts/theme'
import { usePaintedFirst } from '../../parts/usePaintedFirst'
import { moment } from '../../parts/words'
import { texts } from './texts'

const HEIGHT = 62
const TOP = 14
const BAR = 28
const FOOT = TOP + BAR
/** About so wide, among the labels beneath. */
const A_LETTER = 6.4

interface Props {
  frames: readonly PassFrame[]
  groups: readonly PassGroup[]
  /** Where each shoot begins, with its name; none where there is but one. */
  shoots: readonly { from: number; name: string }[]
  position: number
  onGo: (position: number) => void
}

/**
 * The whole pass as a tape: a filled bar is kept, one struck through is struck, an empty one open, short strokes above
 * are stars, a bracket beneath is a group. It shows what is left, and takes one there.
 */
export function PassTape({ frames, groups, shoots, position, onGo }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [width, setWidth] = useState(0)
  const [over, setOver] = useState<{ position: number; x: number } | null>(null)
  const theme = useTheme()[0]
  useEffect(() => {
    if (!box.current) return
    const seen = new ResizeObserver(([entry]) => {
      setWidth(Math.floor(entry?.contentRect.width ?? 0))
    })
    seen.observe(box.current)
    return () => {
      seen.disconnect()
    }
  }, [])
  const seconds = useTimes(frames)
  const tape = useMemo(
    () =>
      passTape(
        seconds,
        width - 16,
        shoots.map(({ from }) => from),
      ),
    [seconds, width, shoots],
  )
  const drawn = usePaintedFirst(frames) // thousands: behind the verdict and the next one
  useEffect(() => {
    const context = canvas.current?.getContext('2d')
    if (canvas.current && context) draw(canvas.current, context, { tape, frames: drawn, groups, width })
  }, [tape, drawn, groups, width, theme])
  const there = ({ clientX }: PointerEvent): number =>
    positionAt(tape.bars, clientX - (box.current?.getBoundingClientRect().left ?? 0) - 8)
  const here = barOf(tape.bars, position)
  const frame = frames[position]
  const shown = over === null ? undefined : frames[over.position]
  return (
    <>
      <div
        ref={box}
        role="slider"
        tabIndex={0}
        aria-label={texts.tape}
        aria-valuemin={1}
        aria-valuemax={frames.length}
        aria-valuenow={position + 1}
        aria-valuetext={`Frame ${position + 1} of ${frames.length}, ${frame?.verdict ?? 'open'}`}
        className="relative cursor-pointer touch-none border border-desk-rule bg-desk-leaf"
        style={{ height: HEIGHT }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          onGo(there(event))
        }}
        onPointerMove={(event) => {
          const at = there(event)
          setOver({ position: at, x: event.clientX })
          if (event.buttons === 1) onGo(at)
        }}
        onPointerLeave={() => {
          setOver(null)
        }}
      >
        <canvas ref={canvas} className="absolute inset-0" style={{ width, height: HEIGHT - 2 }} />
        {here && (
          <span
            className="pointer-events-none absolute border-2 border-velvet"
            style={{ left: here.x + 8 - 3, width: Math.max(8, here.width + 4), top: TOP - 7, height: BAR + 14 }}
          />
        )}
      </div>
      {shown && (
        <span
          className={classes(
            'pointer-events-none absolute bottom-full z-20 mb-1.5 bg-mat-deep p-1 text-center',
            'text-[12px] text-on-mat',
          )}
          style={{ left: Math.max(4, Math.min(width - 130, (over?.x ?? 0) - 84)) }}
        >
          {shown.picture && (
            <img src={pictureUrl(320, shown.picture)} alt="" className="h-[107px] w-[160px] object-contain" />
          )}
          {(over?.position ?? 0) + 1} · {shown.verdict}
        </span>
      )}
      <Stretches frames={frames} shoots={shoots} tape={tape} width={width} />
    </>
  )
}

/** When each frame was taken: the same list as long as it says the same, whatever is judged. */
function useTimes(frames: readonly PassFrame[]): readonly (number | null)[] {
  const [known, setKnown] = useState(() => ({ frames, times: timesOf(frames) }))
  if (known.frames === frames) return known.times
  const times = timesOf(frames)
  const now = { frames, times: isSame(times, known.times) ? known.times : times }
  setKnown(now)
  return now.times
}

const timesOf = (frames: readonly PassFrame[]) => frames.map((frame) => frame.seconds)

const isSame = (one: readonly (number | null)[], other: readonly (number | null)[]) =>
  one.length === other.length && one.every((time, n) => time === other[n])

/** When each stretch of the tape begins, and its end. */
function Stretches({
  frames,
  shoots,
  tape,
  width,
}: Pick<Props, 'frames' | 'shoots'> & {
  tape: ReturnType<typeof passTape>
  width: number
}) {
  const labels: { x: number; text: string; isEnd?: boolean }[] = []
  const text = (position: number) => {
    const seconds = frames[position]?.seconds
    return seconds == null ? null : moment(new Date(seconds * 1000).toISOString())
  }
  const end = text(frames.length - 1)
  let day = ''
  let free = 0
  for (const position of tape.stretches) {
    const bar = barOf(tape.bars, position)
    const full = text(position)
    if (!bar || full === null || bar.x < free || bar.x > width - 200) continue
    const [ofDay = '', clock = ''] = full.split(', ')
    const shoot = shoots.find(({ from }) => from === position)
    const when = ofDay === day && !shoot ? clock : full
    const label = shoot ? `${shoot.name}, ${when}` : when
    labels.push({ x: bar.x, text: label })
    free = bar.x + 20 + label.length * A_LETTER
    day = ofDay
  }
  return (
    <div className="relative mt-0.5 h-[18px] text-[12px] text-desk-soft" aria-hidden="true">
      {labels.map((label) => (
        <span key={label.x} className="absolute whitespace-nowrap" style={{ left: label.x }}>
          {label.text}
        </span>
      ))}
      {end !== null && frames.length > 1 && <span className="absolute right-0">{end}</span>}
    </div>
  )
}

interface Drawn {
  tape: ReturnType<typeof passTape>
  frames: readonly PassFrame[]
  groups: readonly PassGroup[]
  width: number
}

function draw(
  canvas: HTMLCanvasElement,
  context: CanvasRenderingContext2D,
  { tape, frames, groups, width }: Drawn,
): void {
  const scale = window.devicePixelRatio
  canvas.width = Math.round(width * scale)
  canvas.height = Math.round((HEIGHT - 2) * scale)
  context.setTransform(scale, 0, 0, scale, 0, 0)
  context.clearRect(0, 0, width, HEIGHT)
  context.translate(8, 0)
  const style = getComputedStyle(canvas)
  const [ink, soft, struck] = ['--desk-ink', '--desk-soft', '--desk-struck'].map((name) => style.getPropertyValue(name))
  const colours = { ink: ink ?? '', soft: soft ?? '', struck: struck ?? '' }
  for (const bar of tape.bars) {
    if (tape.single) drawFrame(context, bar, frames[bar.from], colours)
    else drawColumn(context, bar, frames, colours)
  }
  if (!tape.single) return
  const place = new Map(frames.map((frame, position) => [frame.id, position]))
  context.strokeStyle = colours.soft
  for (const group of groups) {
    const bars = group.frames.flatMap((frame) => barOf(tape.bars, place.get(frame) ?? 0) ?? [])
    const left = Math.min(...bars.map((bar) => bar.x)) + 1.5
    const right = Math.max(...bars.map((bar) => bar.x + bar.width)) - 1.5
    context.setLineDash(group.kind === 'alike' ? [1.5, 2] : []) // what the camera did not say itself
    context.beginPath()
    context.moveTo(left, FOOT + 5)
    context.lineTo(left, FOOT + 9.5)
    context.lineTo(right, FOOT + 9.5)
    context.lineTo(right, FOOT + 5)
    context.stroke()
  }
  context.setLineDash([])
}

type Colours = Record<'ink' | 'soft' | 'struck', string>

function drawFrame(context: CanvasRenderingContext2D, bar: Bar, frame: PassFrame | undefined, colours: Colours): void {
  const gap = bar.width >= 6 ? 3 : 1
  const [x, width] = [bar.x + gap / 2, bar.width - gap]
  if (frame?.verdict === 'kept') {
    context.fillStyle = colours.ink
    context.fillRect(x, TOP, width, BAR)
  } else if (frame?.verdict === 'struck') {
    context.fillStyle = colours.struck
    context.fillRect(x, TOP + BAR / 2, width, BAR / 2)
    context.strokeStyle = colours.ink
    context.lineWidth = 1.5
    context.beginPath()
    context.moveTo(x - 1, FOOT + 1)
    context.lineTo(x + width + 1, TOP + BAR / 2 - 4)
    context.stroke()
    context.lineWidth = 1
  } else {
    context.strokeStyle = colours.soft
    context.lineWidth = 1
    context.strokeRect(x + 0.5, TOP + 0.5, Math.max(1, width - 1), BAR - 1)
  }
  context.fillStyle = colours.ink
  for (let star = 0; frame && star < starsOf(frame); star++) context.fillRect(x, TOP - 3.5 - star * 2.6, width, 1.5)
}

/** A column of several frames: what is kept of them from the foot, above it what is open, struck ones at the top. */
function drawColumn(context: CanvasRenderingContext2D, bar: Bar, frames: readonly PassFrame[], colours: Colours): void {
  const counts = { kept: 0, struck: 0, open: 0 }
  for (let position = bar.from; position < bar.to; position++) counts[frames[position]?.verdict ?? 'open']++
  const share = (verdict: PassFrame['verdict']) => (BAR * counts[verdict]) / (bar.to - bar.from)
  const [kept, struck] = [share('kept'), share('struck')]
  context.fillStyle = colours.ink
  context.fillRect(bar.x, FOOT - kept, bar.width, kept)
  context.fillStyle = colours.struck
  context.fillRect(bar.x, TOP, bar.width, struck)
  context.fillStyle = colours.soft
  context.fillRect(bar.x, TOP, bar.width, 0.75)
  context.fillRect(bar.x, FOOT - 0.75, bar.width, 0.75)
}
