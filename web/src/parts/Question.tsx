import { AlertDialog } from 'radix-ui'
import { classes } from './classes'

/** A question over the page, which is answered or left before anything else; Cancel has the focus. */
export function Question({
  title,
  says,
  act,
  onAct,
  onLeave,
  onGone,
}: {
  title: string
  says: string
  act: string
  onAct: () => void
  onLeave: () => void
  /** Called when it is gone, to put the focus where it came from. */
  onGone: () => void
}) {
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <AlertDialog.Content
          onEscapeKeyDown={onLeave}
          onCloseAutoFocus={(event) => {
            event.preventDefault()
            onGone()
          }}
          className={classes(
            'fixed top-[30%] left-1/2 z-50 w-[min(520px,calc(100vw-32px))] -translate-x-1/2',
            'border border-rule-strong bg-leaf p-6 shadow-(--shadow)',
          )}
        >
          <AlertDialog.Title className="mb-2 text-[20px]">{title}</AlertDialog.Title>
          <AlertDialog.Description className="mb-5 text-soft">{says}</AlertDialog.Description>
          <div className="flex justify-end gap-3">
            <AlertDialog.Cancel className="button" onClick={onLeave}>
              Cancel
            </AlertDialog.Cancel>
            <AlertDialog.Action
              className="button button-main"
              onClick={() => {
                onLeave()
                onAct()
              }}
            >
              {act}
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  )
}
