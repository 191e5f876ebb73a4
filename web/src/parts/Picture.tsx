import { useState } from 'react'
import { pictureUrl } from '../api/client'

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
  const [failed, setFailed] = useState(false)
  const width = Math.round(upright ? height / 1.5 : height * 1.5)
  if (fingerprint === null || failed) {
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
      src={pictureUrl(320, fingerprint)}
      alt=""
      width={width}
      height={height}
      decoding="async"
      draggable={false}
      className="block bg-mat-deep object-contain"
      style={{ height, width }}
      onError={() => {
        setFailed(true)
      }}
    />
  )
}
