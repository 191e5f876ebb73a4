// @vitest-environment jsdom
import { cleanup, render } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { PathText } from '../src/parts/PathText'

afterEach(cleanup)

const apart = (path: string) => {
  const { container } = render(<PathText path={path} />)
  expect(container.textContent).toBe(path)
  return [...container.querySelectorAll('bdi')].map((bdi) => bdi.textContent)
}

describe('a path', () => {
  it('has words that are read from right to left apart, name by name, without what stands around them', () => {
    expect(apart('2026/2026-05-01 سباق الفوانيس، مساءً/2026-05-01_سباق-مساءً_0001.jpg')).toEqual([
      'سباق الفوانيس، مساءً',
      'سباق-مساءً',
    ])
    expect(apart('2026/2026-05-02 מרוץ 12 הפנסים/a.jpg')).toEqual(['מרוץ 12 הפנסים'])
  })

  it('is left as it is where it has none', () => {
    expect(apart('2026/2026-05-02 Kvæfjord 開窯/0001.trw')).toEqual([])
    expect(apart('')).toEqual([])
  })
})
