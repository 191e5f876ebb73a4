import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { addTab, changeTab, deleteTab, type Tab, type TabColour, type TabSaid, type TabWriting } from '../../api/tabs'
import { classes } from '../../parts/classes'
import { colourOf } from '../../parts/TabMarks'
import { Refusal } from '../../parts/Trouble'
import { texts } from './texts'

const COLOURS: readonly TabColour[] = ['mulberry', 'slate', 'ochre', 'moss', 'plum', 'clay']
const WRITINGS = Object.keys(texts.tabs.writing) as TabWriting[]

/** Makes a tab, or changes one for every frame that has it. */
export function TabForm({ tab, tabs, onDone }: { tab: Tab | null; tabs: readonly Tab[]; onDone: () => void }) {
  const queries = useQueryClient()
  const [said, setSaid] = useState<TabSaid>(tab ?? { name: '', writes: 'nothing' })
  const [isRemoving, setIsRemoving] = useState(false)
  const act = useMutation({
    meta: { inPlace: true },
    mutationFn: (isRemoved: boolean) => {
      if (tab && isRemoved) return deleteTab(tab.id)
      const { name, colour, writes } = said
      const meant = { name, writes, ...(colour && { colour }) }
      return tab ? changeTab(tab.id, meant) : addTab(meant)
    },
    onSuccess: (now) => {
      queries.setQueryData(['tabs'], now)
      onDone()
    },
  })
  const change = (to: Partial<TabSaid>) => {
    setSaid({ ...said, ...to })
  }
  if (tab && isRemoving) {
    return (
      <>
        <p>{texts.tabs.removing(tabs.find(({ id }) => id === tab.id) ?? tab)}</p>
        <Refusal of={act.error} />
        <p className="mt-3 flex gap-2">
          <button
            type="button"
            className="button"
            autoFocus
            onClick={() => {
              act.mutate(true)
            }}
          >
            {texts.tabs.remove}
          </button>
          <button
            type="button"
            className="button"
            onClick={() => {
              setIsRemoving(false)
            }}
          >
            {texts.tabs.cancel}
          </button>
        </p>
      </>
    )
  }
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        act.mutate(false)
      }}
    >
      <label className="grid">
        <span className="text-[13px] text-desk-soft">{texts.tabs.name}</span>
        <input
          className="typed"
          value={said.name}
          autoFocus
          maxLength={40}
          onChange={(event) => {
            change({ name: event.target.value })
          }}
        />
      </label>
      <fieldset>
        <legend className="mb-1 text-[13px] text-desk-soft">
          {texts.tabs.colour}: {said.colour ?? texts.tabs.nextColour}
        </legend>
        <span className="flex gap-1.5">
          {COLOURS.map((colour) => (
            <label key={colour} className="grid size-9 cursor-pointer place-items-center" title={colour}>
              <input
                type="radio"
                name="colour"
                aria-label={colour}
                className="peer sr-only"
                checked={said.colour === colour}
                onChange={() => {
                  change({ colour })
                }}
              />
              <span
                className={classes(
                  'swatch size-6 outline-offset-2 peer-focus-visible:outline-2',
                  said.colour === colour && 'outline-2 outline-desk-ink',
                )}
                style={colourOf(colour)}
              />
            </label>
          ))}
        </span>
      </fieldset>
      <fieldset>
        <legend className="mb-1 text-[13px] text-desk-soft">{texts.tabs.writes}</legend>
        <span className="flex gap-x-4">
          {WRITINGS.map((writes) => (
            <label key={writes} className="flex min-h-6 items-center gap-1.5">
              <input
                type="radio"
                name="writes"
                checked={said.writes === writes}
                onChange={() => {
                  change({ writes })
                }}
              />
              {texts.tabs.writing[writes]}
            </label>
          ))}
        </span>
      </fieldset>
      <Refusal of={act.error} />
      <p className="flex items-center gap-2">
        <button type="submit" className="button button-main" disabled={said.name.trim() === '' || act.isPending}>
          {texts.tabs.save}
        </button>
        <button type="button" className="button" onClick={onDone}>
          {texts.tabs.cancel}
        </button>
        {tab && (
          <button
            type="button"
            className="ml-auto link text-[13px]"
            onClick={() => {
              setIsRemoving(true)
              void queries.invalidateQueries({ queryKey: ['tabs'] }) // how many frames have it now
            }}
          >
            {texts.tabs.remove}
          </button>
        )}
      </p>
    </form>
  )
}
