import { Dialog } from 'radix-ui'
import { Link } from 'react-router'
import { KEYS, listed } from '../keys/keys'
import { classes } from './classes'
import { Over } from './Over'

/** All keys, by where they work. */
export function KeyList({ onClose }: { onClose: () => void }) {
  return (
    <Over
      title="Keys"
      titled
      className={classes(
        'fixed top-1/2 left-1/2 z-50 flex max-h-[92vh] w-[860px] max-w-[94vw] -translate-1/2 flex-col',
        'menu p-7 pb-5',
      )}
      onClose={onClose}
    >
      <div
        tabIndex={0}
        role="region"
        aria-label="Keys"
        className="-mx-2 min-h-0 overflow-y-auto px-2 focus-visible:outline-1 md:columns-2 md:gap-10"
      >
        {Object.entries(KEYS).map(([scope, { title, keys }]) => (
          <section key={scope} className="mb-4 break-inside-avoid">
            <h3 className="mb-1.5 text-[13px] font-semibold text-soft">{title}</h3>
            <dl className="grid grid-cols-[96px_1fr] items-baseline gap-x-3 gap-y-1">
              {listed(keys).map(({ label, what }) => (
                <div key={label} className="contents text-[13.5px]">
                  <dt>
                    <kbd className="key whitespace-pre">{label}</kbd>
                  </dt>
                  <dd>{what}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
      <div className="mt-4 flex items-center gap-5">
        <Dialog.Close className="button">Close</Dialog.Close>
        <Link to="/handbook" className="link" onClick={onClose}>
          Open the handbook
        </Link>
      </div>
    </Over>
  )
}
