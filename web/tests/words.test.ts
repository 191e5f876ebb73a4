import { expect, test } from 'vitest'
import { ago, bytes, clocks, days, duration, plural, shutter, timeLeft } from '../src/parts/words'

test.each([
  [0, '0 bytes'],
  [999, '999 bytes'],
  [1000, '1.00 kB'],
  [3_912_000_000, '3.91 GB'],
  [25_000_000, '25.0 MB'],
  [999_999, '1.00 MB'],
  [64_000_000_000_000, '64.0 TB'],
])('%d bytes are %s, in decimal units as drives are sold', (count, said) => {
  expect(bytes(count)).toBe(said)
})

test('one is one, and thousands are grouped', () => {
  expect([plural(1, 'frame'), plural(0, 'frame'), plural(2116, 'frame')]).toEqual([
    '1 frame',
    '0 frames',
    '2,116 frames',
  ])
})

test('a span of days says no more than it must', () => {
  expect(days('2026-05-02', '2026-05-02')).toBe('2 May 2026')
  expect(days('2026-05-02', '2026-05-03')).toBe('2 to 3 May 2026')
  expect(days('2026-04-30', '2026-05-02')).toBe('30 April to 2 May 2026')
  expect(days('2026-12-31', '2027-01-01')).toBe('31 December 2026 to 1 January 2027')
  expect(clocks('2026-05-02T19:31:40', '2026-05-02T19:31:59')).toBe('19:31')
  expect(clocks('2026-05-02T19:31:40', '2026-05-03T01:12:00')).toBe('19:31 to 01:12')
})

test.each([
  [0.2, 'under a second'],
  [59.4, '59 s'],
  [59.7, '1 min 0 s'],
  [119.6, '2 min 0 s'],
  [3599.7, '1 h 0 min'],
  [7199, '2 h 0 min'],
])('%d seconds are %s', (seconds, said) => {
  expect(duration(seconds)).toBe(said)
})

test('what is left is said in steps that do not jump', () => {
  expect([3, 41, 61, 3500, 5400].map(timeLeft)).toEqual([
    'a few seconds left',
    'about 50 s left',
    'about 2 min left',
    'about 59 min left',
    'about 1.5 h left',
  ])
})

test('how long ago an instant was', () => {
  const now = Date.parse('2026-05-04T12:00:00Z')
  expect(['11:59:30', '11:59:00', '10:00:00', '00:00:00'].map((clock) => ago(`2026-05-04T${clock}Z`, now))).toEqual([
    'just now',
    '1 minute ago',
    '2 hours ago',
    '12 hours ago',
  ])
  expect(ago('2026-05-01T12:00:00Z', now)).toBe('3 days ago')
})

test('times of exposure as photographers write them', () => {
  expect([1 / 250, 0.4, 2, 30].map(shutter)).toEqual(['1/250 s', '0.4 s', '2 s', '30 s'])
})
