import { useCallback, type RefCallback } from 'react'

/**
 * Gives the focus on when what had it is gone, as when an entry is joined to another: the keys go on working, and a
 * screen reader is not sent back to the top of the page.
 *
 * @param heir where it goes, as a selector within the box
 * @returns for the box
 */
export function useFocusKept(heir: string): RefCallback<HTMLElement> {
  return useCallback(
    (element: HTMLElement) => {
      let last: EventTarget | null = null
      const note = (event: FocusEvent) => {
        last = event.target
      }
      const leave = ({ target }: FocusEvent) => {
        // a hand moved it elsewhere; what is being removed is told of as well, by some browsers
        queueMicrotask(() => {
          if (last === target && target instanceof Element && target.isConnected) last = null
        })
      }
      const look = new MutationObserver(() => {
        if (!(last instanceof Element) || last.isConnected || document.activeElement !== document.body) return
        last = null
        element.querySelector<HTMLElement>(heir)?.focus({ preventScroll: true })
      })
      element.addEventListener('focusin', note)
      element.addEventListener('focusout', leave)
      look.observe(element, { childList: true, subtree: true })
      return () => {
        element.removeEventListener('focusin', note)
        element.removeEventListener('focusout', leave)
        look.disconnect()
      }
    },
    [heir],
  )
}
