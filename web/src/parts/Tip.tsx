import { Tooltip } from 'radix-ui'
import type { ReactNode } from 'react'
import { classes } from './classes'

/** What something does or comes from, when it is pointed at or has the focus; nothing where there is nothing to say. */
export function Tip({ says, children }: { says: string | null; children: ReactNode }) {
  if (says === null) return children
  return (
    <Tooltip.Provider delayDuration={500}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={6}
            collisionPadding={8}
            className={classes(
              'z-[60] max-w-[360px] border border-rule-strong bg-leaf px-2.5 py-1',
              'text-[13px] whitespace-pre-line text-ink',
            )}
          >
            {says}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  )
}
