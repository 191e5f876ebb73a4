import { useEffect, useState } from 'react'
import { hatched, lightOf, type Light } from '../model/light'
import { pixelsOf } from './ahead'

interface Measured {
  picture: string
  light: Light
  /** Clipped areas. */
  lines: ImageData
}

/** The light of a picture as it is shown; null until it is measured, or where it is not asked for. */
export function useLight(picture: string | null): Measured | null {
  const [measured, setMeasured] = useState<Measured | null>(null)
  useEffect(() => {
    let isMeant = true
    if (picture === null) return
    pixelsOf(1024, picture)
      .then(({ data, width, height }) => {
        if (!isMeant) return
        const lines = new ImageData(hatched(data, width), width, height)
        setMeasured({ picture, light: lightOf(data), lines })
      })
      .catch(() => undefined) // the page says that it cannot be shown
    return () => {
      isMeant = false
    }
  }, [picture])
  return measured?.picture === picture ? measured : null
}
