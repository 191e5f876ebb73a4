import type { Facts } from '../api/client'
import { duration } from './words'

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
