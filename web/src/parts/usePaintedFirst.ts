import { startTransition, useEffect, useState } from 'react'

/**
 * The value as it was until the page has been painted with the new one: for what takes longer to draw than a person
 * may wait for the rest.
 */
export function usePaintedFirst<T>(value: T): T {
  const [drawn, setDrawn] = useState(value)
  useEffect(() => {
    let timer = 0
    const frame = requestAnimationFrame(() => {
      // a task of its own, and so behind the painting of this frame
      timer = window.setTimeout(() => {
        startTransition(() => {
          setDrawn(value)
        })
      })
    })
    return () => {
      cancelAnimationFrame(frame)
      window.clearTimeout(timer)
    }
  }, [value])
  return drawn
}
