import { Popover } from 'radix-ui'
import { useLayoutEffect, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import type { PassFrame } from '../../api/client'
import type { Tab } from '../../api/tabs'
import { classes } from '../../parts/classes'
import { colourOf, tabsOf } from '../../parts/TabMarks'
import { TabForm } from './TabForm'
import { texts } from './texts'

interface Props {
  tabs: readonly Tab[]
  frame: PassFrame
  /** How many frames its group has; 1 where it is in none. */
  group: number
  isOpen: boolean
  onOpen: (isOpen: boolean) => void
  /** @param isGroup whether all of the group is meant */
  onTab: (tab: number, isGroup: boolean) => void
}

/** The tabs that a frame has, standing up from the edge of the page. */
export function TabChips({ tabs, frame }: Pick<Props, 'tabs' | 'frame'>) {
  const has = tabsOf(tabs, frame.tabs)
  return (
    has.length > 0 && (
      <span
        role="group"
        aria-label={texts.tabs.of(has.map(({ name }) => name))}
        className="page pointer-events-none absolute inset-x-0 bottom-full flex justify-end gap-x-1"
      >
        {has.map(({ id, name, colour }) => (
          <span
            key={id}
            title={name}
            className="tab pointer-events-auto max-w-[140px] truncate bg-desk px-2 text-[12px] leading-4 text-desk-ink"
            style={colourOf(colour)}
          >
            {name}
          </span>
        ))}
      </span>
    )
  )
}

/** All tabs that there are, behind a button: each set by its letter, made and changed. */
export function TabMenu({ tabs, frame, group, isOpen, onOpen, onTab }: Props) {
  const [letter, ...rest] = texts.tabs.button
  const before = useRef<Element>(null)
  // of the whole page: who types fast does not wait until the menu has the focus
  useLayoutEffect(() => {
    if (!isOpen) return
    const press = (event: KeyboardEvent) => {
      const tab = tabOf(tabs, event)
      if (!tab) return
      event.preventDefault()
      onTab(tab.id, event.shiftKey)
      onOpen(false)
    }
    window.addEventListener('keydown', press)
    return () => {
      window.removeEventListener('keydown', press)
    }
  }, [isOpen, tabs, onTab, onOpen])
  return (
    <Popover.Root open={isOpen} onOpenChange={onOpen}>
      <Popover.Trigger className="min-h-8 px-2 text-desk-soft hover:text-desk-ink max-md:min-h-11">
        <u className="underline-offset-3">{letter}</u>
        {rest.join('')}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          sideOffset={8}
          collisionPadding={8}
          aria-label={texts.tabs.title}
          onOpenAutoFocus={() => {
            before.current = document.activeElement
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault() // to the button, where a key opened it: the space bar would open it again
            if (before.current instanceof HTMLElement) before.current.focus()
          }}
          className="desk z-40 w-[300px] menu p-3 text-[14px]"
        >
          <Choice tabs={tabs} frame={frame} group={group} onTab={onTab} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** The one whose letter was pressed, where nobody types. */
function tabOf(tabs: readonly Tab[], { key, target, ctrlKey, metaKey, altKey }: KeyboardEvent): Tab | undefined {
  const isTyped = target instanceof HTMLInputElement || ctrlKey || metaKey || altKey
  return isTyped ? undefined : tabs.find((tab) => tab.key === key.toLowerCase())
}

/** All tabs, or the form in which one is made or changed. */
function Choice({ tabs, frame, group, onTab }: Pick<Props, 'tabs' | 'frame' | 'group' | 'onTab'>) {
  const [edited, setEdited] = useState<Tab | 'new' | null>(null)
  const list = useRef<HTMLUListElement>(null)
  const done = () => {
    flushSync(() => {
      setEdited(null)
    })
    list.current?.focus() // the form that had it is gone, and letters are meant for tabs
  }
  if (edited !== null) return <TabForm tab={edited === 'new' ? null : edited} tabs={tabs} onDone={done} />
  return (
    <>
      {tabs.length === 0 && <p className="mb-2 text-desk-soft">{texts.tabs.none}</p>}
      <ul ref={list} tabIndex={-1} className="outline-none">
        {tabs.map((tab) => {
          const isOn = frame.tabs.includes(tab.id)
          return (
            <li key={tab.id} className="flex items-center gap-2">
              <button
                type="button"
                aria-pressed={isOn}
                aria-keyshortcuts={tab.key}
                className="flex min-h-8 min-w-0 flex-1 items-center gap-2.5 text-left max-md:min-h-11"
                onClick={(event) => {
                  onTab(tab.id, event.shiftKey)
                }}
              >
                <span className="swatch size-4 shrink-0" style={colourOf(tab.colour)} />
                <span className={classes('min-w-0 truncate', isOn && 'font-bold')}>{tab.name}</span>
                {isOn && <span aria-hidden="true">✓</span>}
                <kbd className="ml-auto key uppercase">{tab.key}</kbd>
              </button>
              <button
                type="button"
                className="link shrink-0 text-[13px]"
                aria-label={texts.tabs.edit(tab.name)}
                onClick={() => {
                  setEdited(tab)
                }}
              >
                Edit
              </button>
            </li>
          )
        })}
      </ul>
      <p className="mt-2 flex items-baseline justify-between gap-x-3 border-t border-desk-rule pt-2 text-[13px]">
        <button
          type="button"
          className="link"
          onClick={() => {
            setEdited('new')
          }}
        >
          {texts.tabs.make}
        </button>
        {group > 1 && tabs.length > 0 && <span className="text-desk-soft">{texts.tabs.group(group)}</span>}
      </p>
    </>
  )
}
