import { useQuery } from '@tanstack/react-query'
import type { CSSProperties } from 'react'
import '../style/tabs.css'
import { tabs, type Tab, type TabColour } from '../api/tabs'

const NONE: readonly Tab[] = []

/** All tabs, in the order in which they were made. */
export const useTabs = (): readonly Tab[] => useQuery({ queryKey: ['tabs'], queryFn: tabs }).data ?? NONE

/** Those of a frame. */
export const tabsOf = (all: readonly Tab[], ids: readonly number[]): Tab[] => all.filter(({ id }) => ids.includes(id))

/** For what shows a tab's colour. */
export const colourOf = (colour: TabColour) => ({ '--colour': `var(--tab-${colour})` }) as CSSProperties

/** The tabs of a frame, as small as its name. */
export function TabMarks({ tabs }: { tabs: readonly Tab[] }) {
  return tabs.map(({ id, name, colour }) => (
    <span
      key={id}
      role="img"
      aria-label={`tab ${name}`}
      title={name}
      className="swatch ml-1 inline-block h-2.5 w-2 outline-1 outline-on-mat/60"
      style={colourOf(colour)}
    />
  ))
}
