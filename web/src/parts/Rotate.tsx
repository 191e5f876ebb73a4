import type { Judgement } from '../api/client'

type To = NonNullable<Judgement['rotate']>

const WAYS: readonly { to: To; sign: string; label: string }[] = [
  { to: 'left', sign: '↺', label: 'Rotate to the left' },
  { to: 'right', sign: '↻', label: 'Rotate to the right' },
]

/** Two buttons that rotate what is meant by a quarter. */
export function Rotate({ label = 'rotate', onRotate }: { label?: string; onRotate: (to: To) => void }) {
  return (
    <span className="text-[13px] whitespace-nowrap">
      {label}
      {WAYS.map(({ to, sign, label }) => (
        <button
          key={to}
          type="button"
          className="link ml-1.5 px-0.5 max-md:px-3 max-md:py-2.5"
          aria-label={label}
          title={label}
          onClick={() => {
            onRotate(to)
          }}
        >
          {sign}
        </button>
      ))}
    </span>
  )
}
