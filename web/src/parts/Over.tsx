import { Dialog } from 'radix-ui'
import { useState, type KeyboardEvent, type ReactNode } from 'react'

/** What lies over the page until it is left by Escape or its own button: the focus goes back to where it came from. */
export function Over({
  title,
  titled = false,
  className,
  onClose,
  onKeyDown,
  children,
}: {
  title: string
  /** Whether the title is seen, above the rest, and the page darkened beneath; else it is only read out. */
  titled?: boolean
  className: string
  onClose: () => void
  onKeyDown?: (event: KeyboardEvent) => void
  children: ReactNode
}) {
  const [from] = useState(() => document.activeElement)
  return (
    <Dialog.Root
      open
      onOpenChange={(open) => {
        if (!open) onClose()
      }}
    >
      <Dialog.Portal>
        {titled && <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />}
        <Dialog.Content
          aria-describedby={undefined}
          className={className}
          onKeyDown={onKeyDown}
          onCloseAutoFocus={(event) => {
            event.preventDefault()
            if (from instanceof HTMLElement) from.focus({ preventScroll: true })
          }}
        >
          <Dialog.Title className={titled ? 'mb-3 text-[22px]' : 'sr-only'}>{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** Leaves it, where it fills the window. */
export function Back() {
  return <Dialog.Close className="min-h-8 rounded border border-[#8c8c8c] px-3 hover:border-white">Back</Dialog.Close>
}
