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
  if (count === 1) return '1 byte'
  return `${unit === 0 ? value : value.toFixed(value >= 100 ? 0 : value >= 10 ? 1 : 2)} ${UNITS[unit] ?? ''}`
}

const AND = new Intl.ListFormat('en-GB', { type: 'conjunction' })

/** As `Studio`, `Studio and Twin`, `A, B and C`. */
export const list = (each: readonly string[]): string => AND.format(each)

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
