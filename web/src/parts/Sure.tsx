import { AlertDialog } from 'radix-ui'
import { classes } from './classes'

/** What cannot be undone asks once: a button, then a sentence on what goes, a way back, and the word for it. */
export function Sure({
  ask,
  says,
  act,
  isBusy,
  onAct,
  small = false,
}: {
  ask: string
  says: string
  act: string
  isBusy: boolean
  onAct: () => void
  small?: boolean
}) {
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger className={classes('link', small ? 'text-[13px]' : '')} disabled={isBusy}>
        {ask}
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <AlertDialog.Content
          className={classes(
            'fixed top-[30%] left-1/2 z-50 w-[min(520px,calc(100vw-32px))] -translate-x-1/2',
            'border border-rule-strong bg-leaf p-6 shadow-(--shadow)',
          )}
        >
          <AlertDialog.Title className="mb-2 text-[20px]">{ask.replace(/…$/, '')}</AlertDialog.Title>
          <AlertDialog.Description className="mb-5 text-soft">{says}</AlertDialog.Description>
          <div className="flex justify-end gap-3">
            <AlertDialog.Cancel className="button">Cancel</AlertDialog.Cancel>
            <AlertDialog.Action className="button button-main" onClick={onAct}>
              {act}
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  )
}
