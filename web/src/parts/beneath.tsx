import { DropdownMenu } from 'radix-ui'
import { useSyncExternalStore } from 'react'
import type { Facts } from '../api/client'
import { aperture, bias, camera, focal, lens, playing, sensitivity, shutter, size, starsOfFile } from './fact-words'

/**
 * What can stand beneath the frames of a contact sheet: in the words photographers use, null where the file does not
 * say; and how many letters that is, roughly.
 */
const CHOICES = {
  time: { label: 'Time', letters: 8, say: (facts: Facts) => facts.captured_at?.slice(11, 19) ?? null },
  shutter: {
    label: 'Exposure time',
    letters: 8,
    say: (facts: Facts) => (facts.exposure_s == null ? null : shutter(facts.exposure_s)),
  },
  aperture: { label: 'Aperture', letters: 5, say: aperture },
  sensitivity: { label: 'ISO', letters: 8, say: sensitivity },
  bias: { label: 'Exposure bias', letters: 6, say: bias },
  focal: { label: 'Focal length', letters: 6, say: focal },
  lens: { label: 'Lens', letters: 19, say: lens },
  camera: { label: 'Camera', letters: 9, say: camera },
  size: { label: 'Size in pixels', letters: 11, say: size },
  stars: { label: 'Stars', letters: 8, say: starsOfFile },
} as const

type Choice = keyof typeof CHOICES
const ALL = Object.keys(CHOICES) as Choice[]
const USUAL: Choice[] = ['shutter', 'aperture', 'sensitivity']
const KEY = 'velvet.beneath'

/** A label within a sentence: ISO keeps its capitals. */
function within(choice: Choice): string {
  return CHOICES[choice].label.replace(/^[A-Z](?![A-Z])/, (letter) => letter.toLowerCase())
}

let chosen: Choice[] | null = null
const listeners = new Set<() => void>()

function read(): Choice[] {
  if (chosen === null) {
    const kept = localStorage.getItem(KEY)
    chosen = kept === null ? USUAL : ALL.filter((choice) => kept.split(' ').includes(choice))
  }
  return chosen
}

function toggle(choice: Choice) {
  const now = read()
  chosen = ALL.filter((each) => (each === choice ? !now.includes(each) : now.includes(each)))
  localStorage.setItem(KEY, chosen.join(' '))
  listeners.forEach((listener) => {
    listener()
  })
}

function useChosen(): Choice[] {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => {
      listeners.delete(listener)
    }
  }, read)
}

/**
 * The chosen facts of a frame, and the lines they take; what the file does not say is said to be unknown.
 *
 * @param line letters that stand on one line, roughly
 */
export function useBeneath(line: number): { say: (facts: Facts) => string; lines: number } {
  const choices = useChosen()
  const say = (facts: Facts) => {
    const plays = playing(facts)
    if (plays !== null) return plays
    const known = choices
      .map((choice) => CHOICES[choice].say(facts)?.replaceAll(' ', '\u00A0'))
      .filter((words) => words !== undefined)
    const unknown = choices.filter((choice) => CHOICES[choice].say(facts) === null)
    const rest =
      unknown.length === 0
        ? []
        : unknown.length === 1
          ? unknown.map((choice) => `${within(choice)}\u00A0unknown`)
          : [known.length === 0 ? 'No camera data' : 'the\u00A0rest\u00A0unknown']
    return [...known, ...rest].join(' · ')
  }
  const letters = choices.reduce((sum, choice) => sum + CHOICES[choice].letters + 3, 0)
  return { say, lines: Math.ceil((letters - 3) / line) }
}

/** Chooses what stands beneath the frames, here and on every contact sheet of this browser. */
export function BeneathChoice() {
  const choices = useChosen()
  const names = choices.map((choice) => within(choice))
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="link text-[13px]">
        Captions: {names.length === 0 ? 'name only' : names.join(', ')}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="z-30 min-w-[220px] menu p-1.5">
          {ALL.map((choice) => (
            <DropdownMenu.CheckboxItem
              key={choice}
              checked={choices.includes(choice)}
              onSelect={(event) => {
                event.preventDefault()
              }}
              onCheckedChange={() => {
                toggle(choice)
              }}
              className="menu-line gap-2"
            >
              <span aria-hidden className="w-4">
                {choices.includes(choice) ? '✓' : ''}
              </span>
              {CHOICES[choice].label}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
