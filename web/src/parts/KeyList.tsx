import { Dialog } from 'radix-ui'

const LIST = [
  ['←  →', 'Frame to the left, to the right'],
  ['↑  ↓', 'Row above, row below, in a contact sheet'],
  ['Space', 'Look closer at the frame; again, or Escape, to go back'],
  ['Enter', 'Open an entry’s contact sheet; in a name, go to the next entry'],
  ['Shift ←→', 'Select a range in a contact sheet; Ctrl A all of it'],
  ['L', 'Leave the selected frames out, or take them back'],
  ['B', 'Begin an entry at the frame'],
  ['N', 'To the next missed frame, change of interval, bracket or burst'],
  ['J', 'On a mark of the tape: join with the entry before; arrows move it'],
  ['Ctrl Z', 'Undo an edit of the sheet; with Shift, redo it'],
  ['Escape', 'One step back'],
  ['/', 'Search the shoots'],
  ['?', 'This list'],
] as const

/** All keys, in one list. */
export function KeyList({ onClose }: { onClose: () => void }) {
  return (
    <Dialog.Root
      open
      onOpenChange={(open) => {
        if (!open) onClose()
      }}
    >
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-[460px] max-w-[92vw] -translate-1/2 menu p-7"
        >
          <Dialog.Title className="mb-4 text-[22px]">Keys</Dialog.Title>
          <dl className="grid grid-cols-[88px_1fr] items-baseline gap-x-4 gap-y-2.5">
            {LIST.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="key whitespace-pre">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="button mt-6">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
