import { describe, expect, test } from 'vitest'
import { exposure, fromMakerNote, shutter } from '../src/parts/fact-words'
import { ago, bytes, clocks, day, days, duration, moment, plural, timeLeft } from '../src/parts/words'

describe('words', () => {
  for (const [count, words] of [
    [0, '0 bytes'],
    [1, '1 byte'],
    [999, '999 bytes'],
    [1000, '1.00 kB'],
    [999_999, '1.00 MB'],
    [3_910_000_000, '3.91 GB'],
    [18_420_000_000, '18.4 GB'],
    [412_000_000_000, '412 GB'],
    [2_000_000_000_000_000, '2000 TB'],
  ] as const) {
    test(`${count} is ${words}`, () => {
      expect(bytes(count)).toBe(words)
    })
  }

  // as photographers say it (common practice)
  for (const [seconds, words] of [
    [1 / 4000, '1/4000 s'],
    [0.004, '1/250 s'],
    [1 / 60, '1/60 s'],
    [0.3, '0.3 s'],
    [1, '1 s'],
    [2.5, '2.5 s'],
    [30, '30 s'],
  ] as const) {
    test(`${seconds} s is ${words}`, () => {
      expect(shutter(seconds)).toBe(words)
    })
  }

  test('days and hours are unambiguous', () => {
    expect(day('2026-05-04')).toBe('4 May 2026')
    expect(days('2026-05-02', '2026-05-02')).toBe('2 May 2026')
    expect(days('2026-05-02T10:00:00', '2026-05-04T09:00:00')).toBe('2 to 4 May 2026')
    expect(days('2026-04-30', '2026-05-02')).toBe('30 April to 2 May 2026')
    expect(days('2026-12-31', '2027-01-01')).toBe('31 December 2026 to 1 January 2027')
    expect(clocks('2026-05-02T19:31:40', '2026-05-03T01:12:00')).toBe('19:31 to 01:12')
    expect(clocks('2026-05-02T19:31:40', '2026-05-02T19:31:59')).toBe('19:31')
    expect(moment('2026-05-04T05:10:00.120')).toBe('4 May, 05:10')
  })

  test('counts and times are in plain words', () => {
    expect(plural(1, 'frame')).toBe('1 frame')
    expect(plural(2000, 'frame')).toBe('2,000 frames')
    expect(duration(0.2)).toBe('under a second')
    expect(duration(59.7)).toBe('1 min 0 s')
    expect(duration(75)).toBe('1 min 15 s')
    expect(duration(119.6)).toBe('2 min 0 s')
    expect(duration(3599.7)).toBe('1 h 0 min')
    expect(duration(3720)).toBe('1 h 2 min')
    expect(timeLeft(3)).toBe('a few seconds left')
    expect(timeLeft(33)).toBe('about 40 s left')
    expect(timeLeft(90)).toBe('about 2 min left')
    expect(timeLeft(5400)).toBe('about 1.5 h left')
  })

  test('what is unknown is left out of the exposure', () => {
    expect(exposure({ exposure_s: 0.004, f_number: 2.8, iso: 800, focal_mm: 85 })).toEqual([
      '1/250 s',
      'f/2.8',
      'ISO 800',
      '85 mm',
    ])
    expect(exposure({ exposure_s: null, f_number: 8, iso: null, focal_mm: null })).toEqual(['f/8'])
  })

  test('what the camera alone notes is named as such', () => {
    expect(fromMakerNote({ from_maker_note: ['lens', 'iso'] })).toBe('From the camera’s own notes: lens, sensitivity.')
    expect(fromMakerNote({ from_maker_note: [] })).toBeNull()
    expect(fromMakerNote({})).toBeNull()
  })

  test('how long ago an instant was', () => {
    const now = Date.parse('2026-05-04T12:00:00Z')
    const said = ['04T11:59:30', '04T11:59:00', '04T10:00:00', '01T12:00:00'].map((at) => ago(`2026-05-${at}Z`, now))
    expect(said).toEqual(['just now', '1 minute ago', '2 hours ago', '3 days ago'])
  })
})
