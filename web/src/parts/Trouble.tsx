import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'

/** An error: ink on a pale rose, in a plain sentence. */
export function Trouble({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div role="alert" className="flex items-baseline gap-4 border border-rose-rule bg-rose px-4 py-2.5">
      <div className="max-w-[90ch]">{children}</div>
      {action}
    </div>
  )
}

/**
 * What was refused stays to be read, also when the next thing that was asked for went well, until it is put away or
 * something else is refused.
 */
export function Refusal({ of, note }: { of: Error | null; note?: string }) {
  const [shown, setShown] = useState<Error | null>(of)
  const [last, setLast] = useState(of)
  if (of !== last) {
    setLast(of)
    if (of !== null) setShown(of)
  }
  if (shown === null) return null
  return (
    <Refused
      onDismiss={() => {
        setShown(null)
      }}
    >
      {shown.message}
      {note !== undefined && ` ${note}`}
    </Refused>
  )
}

/** All that was refused, each until it is read. */
export function Refusals({ all, onDismiss }: { all: readonly Error[]; onDismiss: (refusal: Error) => void }) {
  return all.map((refusal, i) => (
    <div key={i} className="mb-2">
      <Refused
        onDismiss={() => {
          onDismiss(refusal)
        }}
      >
        {refusal.message}
      </Refused>
    </div>
  ))
}

function Refused({ children, onDismiss }: { children: ReactNode; onDismiss: () => void }) {
  return (
    <Trouble
      action={
        <button type="button" className="link ml-auto" onClick={onDismiss}>
          Dismiss
        </button>
      }
    >
      {children}
    </Trouble>
  )
}

/** A place where nothing is yet, and what to do about it. */
export function Nothing({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="mx-auto max-w-[56ch] py-24 text-center">
      <h2 className="mb-3 text-[24px]">{title}</h2>
      <div className="text-soft">{children}</div>
    </div>
  )
}

/** What a page shows until its first answer is there, or when none came. */
export function Waiting({ error }: { error: Error | null }) {
  return (
    <div className="page py-10">
      <title>Velvet Ledger</title>
      {error ? (
        <>
          <Trouble>{error.message}</Trouble>
          <p className="mt-4">
            <Link to="/bays" className="link">
              To the bays
            </Link>
          </p>
        </>
      ) : (
        <p className="text-soft">Opening…</p>
      )}
    </div>
  )
}
