import { useState } from 'react'
import { pictureUrl } from '../api/client'

/** Up to this height, in pixels, the smallest of its pictures is enough. */
const TALLEST_SMALL = 220

/** A frame's small picture; a frame without one shows its name. */
export function Picture({
  fingerprint,
  name,
  height,
  upright = false,
}: {
  fingerprint: string | null
  name: string
  height: number
  upright?: boolean
}) {
  const [failed, setFailed] = useState<string | null>(null)
  const width = Math.round(upright ? height / 1.5 : height * 1.5)
  if (fingerprint === null || failed === fingerprint) {
    return (
      <span
        style={{ height, width }}
        className="grid place-items-center bg-mat-deep px-1 text-center text-[11px] leading-tight text-on-mat"
      >
        <span className="max-w-full overflow-hidden break-words">
          {name}
          <br />
          no picture
        </span>
      </span>
    )
  }
  return (
    <img
      src={pictureUrl(height > TALLEST_SMALL ? 1024 : 320, fingerprint)}
      alt=""
      width={width}
      height={height}
      decoding="async"
      draggable={false}
      className="block bg-mat-deep object-contain"
      style={{ height, width }}
      onError={() => {
        setFailed(fingerprint)
      }}
    />
  )
}
