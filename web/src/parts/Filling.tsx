import { classes } from './classes'

interface Props {
  /** 0 to 1. */
  share: number
  label: string
  /** How tall and how wide. */
  className: string
  dark?: boolean
}

/** One line that fills. */
export function Filling({ share, label, className, dark = false }: Props) {
  const percent = Math.min(100, Math.max(0, share * 100))
  return (
    <span
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.floor(percent)}
      className={classes('block bg-rule', className)}
    >
      <span
        className={classes('block h-full transition-[width] duration-150', dark ? 'bg-ink' : 'bg-velvet')}
        style={{ width: `${percent}%` }}
      />
    </span>
  )
}
