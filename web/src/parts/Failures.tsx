import { Toast } from 'radix-ui'
import type { Failure } from './failures'

/** Failures in the corner of the window: they stay until they are read, and can be reached with F8. */
export function Failures({ all, onDismiss }: { all: readonly Failure[]; onDismiss: (id: number) => void }) {
  return (
    <Toast.Provider label="Failed" duration={Infinity} swipeDirection="right">
      {all.map(({ id, why }) => (
        <Toast.Root
          key={id}
          className="flex items-baseline gap-4 border border-rose-rule bg-rose px-4 py-2.5 shadow-(--shadow)"
          onOpenChange={(open) => {
            if (!open) onDismiss(id)
          }}
        >
          <Toast.Description className="max-w-[60ch]">{why}</Toast.Description>
          <Toast.Close className="link ml-auto">Dismiss</Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport
        label="What failed ({hotkey})"
        className="fixed right-0 bottom-0 z-[70] grid w-[min(480px,100vw)] gap-2 p-4"
      />
    </Toast.Provider>
  )
}
