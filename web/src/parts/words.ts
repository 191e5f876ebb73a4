import type { Facts } from '../api/client'

const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB']
const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]

/** Decimal units, as drives and cards are sold: 3.91 GB. */
export function bytes(count: number): string {
  let unit = 0
  let value = count
  // what would be rounded to a thousand is one of the next unit
  while (value >= (unit === 0 ? 1000 : 999.5) && unit < UNITS.length - 1) {
    value /= 1000
    unit++
  }
  return `${unit === 0 ? value : value.toFixed(value >= 100 ? 0 : value >= 10 ? 1 : 2)} ${UNITS[unit] ?? ''}`
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : many}`
}

function split(time: string): { year: number; month: number; day: number; clock: string } {
  const [date = '', clock = ''] = time.split('T')
  const [year = 0, month = 1, day = 1] = date.split('-').map(Number)
  return { year, month, day, clock: clock.slice(0, 5) }
}

function month(number: number): string {
  return MONTHS[number - 1] ?? ''
}

/** 4 May 2026, from `2026-05-04`. */
export function day(date: string): string {
  const { year, month: m, day: d } = split(date)
  return `${d} ${month(m)} ${year}`
}

/** 30 April to 2 May 2026; one day stands alone. */
export function days(first: string, last: string): string {
  const a = split(first)
  const b = split(last)
  if (a.year !== b.year) return `${day(first)} to ${day(last)}`
  if (a.month !== b.month) return `${a.day} ${month(a.month)} to ${day(last)}`
  return a.day === b.day ? day(last) : `${a.day} to ${day(last)}`
}

/** 19:31 to 01:12, or with days where there are two. */
export function clocks(first: string, last: string): string {
  const a = split(first)
  const b = split(last)
  return a.clock === b.clock ? a.clock : `${a.clock} to ${b.clock}`
}

/** 4 May, 05:10 from a wall clock. */
export function moment(time: string): string {
  const { month: m, day: d, clock } = split(time)
  return `${d} ${month(m)}, ${clock}`
}

/** 4 May, 05:10:32. */
export function momentWithSeconds(time: string): string {
  return `${moment(time)}${time.slice(16, 19)}`
}

/** 24 November 2026, 23:01 in the reader's own zone, from an instant. */
export function instant(time: string): string {
  const date = new Date(time)
  const pad = (value: number) => String(value).padStart(2, '0')
  const clock = `${pad(date.getHours())}:${pad(date.getMinutes())}`
  return `${date.getDate()} ${month(date.getMonth() + 1)} ${date.getFullYear()}, ${clock}`
}

/** How long ago an instant was: 5 minutes ago, 3 days ago. */
export function ago(time: string, now = Date.now()): string {
  const minutes = Math.floor((now - new Date(time).getTime()) / 60_000)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${plural(minutes, 'minute')} ago`
  if (minutes < 48 * 60) return `${plural(Math.floor(minutes / 60), 'hour')} ago`
  return `${plural(Math.floor(minutes / (24 * 60)), 'day')} ago`
}

export function duration(seconds: number): string {
  if (seconds < 1) return 'under a second'
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole} s`
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${whole % 60} s`
  const minutes = Math.round(whole / 60)
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}

/** Time left, rounded so that it does not jump: about 2 min. */
export function timeLeft(seconds: number): string {
  if (seconds < 5) return 'a few seconds left'
  if (seconds < 55) return `about ${Math.ceil(seconds / 10) * 10} s left`
  if (seconds < 3600) return `about ${Math.ceil(seconds / 60)} min left`
  return `about ${(seconds / 3600).toFixed(1)} h left`
}

/** 1/250 s, as photographers say it. */
export function shutter(seconds: number): string {
  if (seconds >= 0.3) return `${Number(seconds.toFixed(1))} s`
  return `1/${Math.round(1 / seconds)} s`
}

const NOTED = { serial: 'serial number', lens: 'lens', iso: 'sensitivity', rating: 'stars' } as const

/** Which facts no standard tag says, in a sentence; null where there are none. */
export function fromMakerNote(facts: Facts): string | null {
  const noted = (facts.from_maker_note ?? []).map((fact) => NOTED[fact])
  return noted.length === 0 ? null : `From the camera’s own notes: ${noted.join(', ')}.`
}

/** 2 pictures in it, as for two eyes; null for one. */
export function shots(facts: Facts): string | null {
  return (facts.shots ?? 1) < 2 ? null : `${facts.shots} pictures in it`
}

/** How a movie or sound plays: 1 min 12 s · 25 frames a second; null for a still. */
export function playing(facts: Facts): string | null {
  if (facts.seconds == null) return null
  const rate = facts.frames_per_second
  return [duration(facts.seconds), rate == null ? null : `${Number(rate.toFixed(2))}\u00A0frames a second`]
    .filter(Boolean)
    .join(' · ')
}

export function aperture(facts: Facts): string | null {
  return facts.f_number == null ? null : `f/${Number(facts.f_number.toFixed(1))}`
}

export function sensitivity(facts: Facts): string | null {
  return facts.iso == null ? null : `ISO ${facts.iso}`
}

export function focal(facts: Facts): string | null {
  return facts.focal_mm == null ? null : `${Math.round(facts.focal_mm)} mm`
}

/** +⅔ EV and the like: thirds and halves as photographers write them. */
export function bias(facts: Facts): string | null {
  if (facts.exposure_bias == null) return null
  const sign = facts.exposure_bias < -0.01 ? '−' : facts.exposure_bias > 0.01 ? '+' : '±'
  const amount = Math.abs(facts.exposure_bias)
  const whole = Math.floor(amount + 0.01)
  const part = amount - whole
  const fraction =
    part < 0.05
      ? ''
      : Math.abs(part - 1 / 3) < 0.05
        ? '⅓'
        : Math.abs(part - 0.5) < 0.05
          ? '½'
          : Math.abs(part - 2 / 3) < 0.05
            ? '⅔'
            : null
  const words = fraction === null ? amount.toFixed(1) : `${whole === 0 && fraction !== '' ? '' : whole}${fraction}`
  return `${sign}${words} EV`
}

export function lens(facts: Facts): string | null {
  return facts.lens ?? null
}

export function camera(facts: Facts): string | null {
  return facts.model ?? facts.make ?? null
}

export function size(facts: Facts): string | null {
  return facts.width && facts.height ? `${facts.width} × ${facts.height}` : null
}

export const stars = (count: number): string => '★'.repeat(Math.max(0, count))

/** Those that the file says; null where it says nothing. */
export function starsOfFile({ rating }: Facts): string | null {
  return rating == null ? null : rating < 1 ? 'no stars' : stars(rating)
}

/** How a frame was exposed, as far as the file says it. */
export function exposure(facts: Facts): string[] {
  const time = facts.exposure_s == null ? null : shutter(facts.exposure_s)
  return [time, aperture(facts), sensitivity(facts), focal(facts)].filter((word) => word !== null)
}
