/** A thin line through a frame that is struck, as in a book. */
export function Stroke() {
  return (
    <svg
      className="pointer-events-none absolute inset-0 size-full"
      viewBox="0 0 100 100"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <line
        x1="1"
        y1="99"
        x2="99"
        y2="1"
        stroke="#000"
        strokeOpacity="0.45"
        strokeWidth="3.5"
        vectorEffect="non-scaling-stroke"
      />
      <line x1="1" y1="99" x2="99" y2="1" stroke="#fff" strokeWidth="1.6" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}
