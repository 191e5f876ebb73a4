interface Props {
  open: boolean
  onOpen: (open: boolean) => void
  /** What it says while closed, and while open. */
  says: readonly [string, string]
}

/** Opens what lies beneath, and closes it. */
export function ShowMore({ open, onOpen, says }: Props) {
  return (
    <button
      type="button"
      className="link"
      aria-expanded={open}
      onClick={() => {
        onOpen(!open)
      }}
    >
      {says[open ? 1 : 0]}
    </button>
  )
}
