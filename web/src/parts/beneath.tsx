import { DropdownMenu } from 'radix-ui'
import { useSyncExternalStore } from 'react'
import type { Facts } from '../api/client'
import { aperture, bias, camera, focal, lens, momentWithSeconds, sensitivity, shutter, size, stars } from './words'

/** What can stand beneath the frames of a contact sheet, in the words photographers use; null where the file does not say. */
const CHOICES = {
  time: { label: 'Time', say: (facts: Facts) => (facts.captured_at ? momentWithSeconds(facts.captured_at) : null) },
  shutter: { label: 'Exposure time', say: (facts: Facts) => (facts.exposure_s == null ? null : shutter(facts.exposure_s)) },
  aperture: { label: 'Aperture', say: aperture },
  sensitivity: { label: 'ISO', say: sensitivity },
  bias: { label: 'Exposure bias', say: bias },
  focal: { label: 'Focal length', say: focal },
  lens: { label: 'Lens', say: lens },
  camera: { label: 'Camera', say: camera },
  size: { label: 'Size in pixels', say: size },
  stars: { label: 'Stars from the camera', say: stars },
} as const

type Choice = keyof typeof CHOICES
const ALL = Object.keys(CHOICES) as Choice[]
const USUAL: Choice[] = ['shutter', 'aperture', 'sensitivity']
const KEY = 'velvet.beneath'

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

/** The chosen facts of a frame in one line; what the file does not say is said to be unknown. */
export function useBeneath(): (facts: Facts) => string {
  const choices = useChosen()
  return (facts) => {
    const known = choices.map((choice) => [CHOICES[choice].label.toLowerCase(), CHOICES[choice].say(facts)] as const)
    if (known.length > 1 && known.every(([, words]) => words === null)) return 'nothing of it known'
    return known.map(([label, words]) => words ?? `${label} unknown`).join(' · ')
  }
}

/** Chooses what stands beneath the frames, here and on every contact sheet of this browser. */
export function BeneathChoice() {
  const choices = useChosen()
  const names = choices.map((choice) => CHOICES[choice].label.toLowerCase())
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="link text-[13px]">Beneath the frames: {names.length === 0 ? 'the name only' : names.join(', ')}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="z-30 min-w-[220px] border border-rule-strong bg-leaf p-1.5 shadow-(--shadow)">
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
              className="flex min-h-8 cursor-pointer items-center gap-2 px-2.5 outline-none data-[highlighted]:bg-velvet-wash"
            >
              <span className="w-4">{choices.includes(choice) ? '✓' : ''}</span>
              {CHOICES[choice].label}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
