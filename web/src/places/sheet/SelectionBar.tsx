import { useMemo } from 'react'
import type { Edit, Sheet, Tape } from '../../api/client'
import { Pick } from '../../parts/Pick'
import { offset } from './Clocks'
import type { Selection } from '../../parts/selection'
import { Tip } from '../../parts/Tip'
import { texts } from './texts'

const says = texts.selection

/** What can be done with the selected frames, counted in words; in the line above the contact sheet, over no frame. */
export function SelectionBar({
  sheet,
  tape,
  selection,
  edit,
}: {
  sheet: Sheet
  tape: Tape
  selection: Selection
  edit: (edit: Edit) => void
}) {
  const { entries } = sheet
  const choices = useMemo(
    () => [
      { value: 'none', label: says.choose },
      ...entries.map(({ frame, number, name }) => ({
        value: String(frame),
        label: `${number} ${name || says.unnamed}`,
      })),
      { value: 'new', label: says.newEntry },
    ],
    [entries],
  )
  const frames = [...selection.ids]
  const first = frames[0]
  if (first === undefined) return null
  const home = tape.find((entry) => entry.frames.includes(first))
  const isFirst = home?.frames[0] === first
  const moment = sameMoment(sheet, tape, frames)
  const then = (what: Edit) => {
    edit(what)
    selection.clear()
  }
  return (
    <section
      aria-label={says.label}
      className="flex min-h-[34px] flex-1 flex-wrap items-center gap-x-5 gap-y-1 bg-velvet-wash px-3"
    >
      <strong className="font-semibold">{says.count(frames.length)}</strong>
      <button
        type="button"
        className="button min-h-[28px]"
        onClick={() => {
          then({ do: 'leave_out', frames })
        }}
      >
        {says.leaveOut}
      </button>
      <button
        type="button"
        className="button min-h-[28px]"
        onClick={() => {
          then({ do: 'take_back', frames })
        }}
      >
        {says.takeBack}
      </button>
      {frames.length === 1 && !isFirst && (
        <button
          type="button"
          className="button min-h-[28px]"
          onClick={() => {
            then({ do: 'split', frame: first })
          }}
        >
          {says.begin}
        </button>
      )}
      {moment && (
        <Tip says={says.sameMomentTip(offset(moment.seconds))}>
          <button
            type="button"
            className="button min-h-[28px]"
            onClick={() => {
              then({ do: 'clock', camera: moment.camera, seconds: moment.seconds })
            }}
          >
            {says.sameMoment(moment.name)}
          </button>
        </Tip>
      )}
      <span className="flex items-center gap-1.5">
        <span className="text-soft">{says.move}</span>
        <Pick
          label={says.moveLabel}
          value="none"
          choices={choices}
          onPick={(value) => {
            if (value !== 'none') then({ do: 'move', frames, to: value === 'new' ? null : Number(value) })
          }}
        />
      </span>
      <button type="button" className="link ml-auto" onClick={selection.clear}>
        {says.nothing}
      </button>
    </section>
  )
}

/** Two frames of two cameras, taken as the same moment: what must be added to the clock of the one selected last. */
function sameMoment(
  sheet: Sheet,
  tape: Tape,
  frames: number[],
): { camera: string; name: string; seconds: number } | null {
  const [a, b] = frames.map((id) => {
    const entry = tape.find((each) => each.frames.includes(id))
    const at = entry?.frames.indexOf(id) ?? -1
    return { camera: entry?.cameras[at], tick: entry?.ticks[at] }
  })
  if (
    frames.length !== 2 ||
    !a ||
    !b ||
    !a.camera ||
    !b.camera ||
    a.camera === b.camera ||
    a.tick == null ||
    b.tick == null ||
    a.tick === b.tick
  )
    return null
  const known = sheet.cameras.find((each) => each.camera === b.camera)
  return { camera: b.camera, name: known?.name ?? b.camera, seconds: (known?.seconds ?? 0) + a.tick - b.tick }
}
