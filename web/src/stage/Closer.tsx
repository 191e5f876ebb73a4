import { useEffect, useRef, useState, type PointerEvent } from 'react'
import { pictureUrl } from '../api/client'
import { pointed, within, type Place } from '../model/closer'

interface Props {
  name: string
  picture: string
  /** What is in the middle; null while all of the picture is shown. */
  place: Place | null
  onPlace: (place: Place | null) => void
}

/**
 * Lies over a picture that is fitted into the stage: a click shows every pixel of it there, a drag moves it, another
 * click goes back. Keys find the pointer by `data-at`, as shares of the picture.
 */
export function Closer({ name, picture, place, onPlace }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const [whole, setWhole] = useState<{ width: number; height: number } | null>(null)
  const [window_, setWindow] = useState({ width: 0, height: 0 })
  const [failed, setFailed] = useState(false)
  const dragged = useRef(false)
  useEffect(() => {
    if (!box.current) return
    const seen = new ResizeObserver(([entry]) => {
      if (entry) setWindow({ width: entry.contentRect.width, height: entry.contentRect.height })
    })
    seen.observe(box.current)
    return () => {
      seen.disconnect()
    }
  }, [])
  const at = (event: PointerEvent): Place | null => {
    const fitted = box.current?.parentElement?.querySelector<HTMLImageElement>(':scope > img')
    const { left, top } = event.currentTarget.getBoundingClientRect()
    if (!fitted || fitted.naturalWidth === 0) return null
    return pointed(
      { x: event.clientX - left, y: event.clientY - top },
      { width: fitted.naturalWidth, height: fitted.naturalHeight },
      window_,
    )
  }
  const pixels = whole && { width: whole.width / devicePixelRatio, height: whole.height / devicePixelRatio }
  const middle = place && pixels && within(place, pixels, window_)
  return (
    <div
      ref={box}
      className={`absolute inset-3 overflow-hidden ${place === null ? 'cursor-zoom-in' : 'mat cursor-grab touch-none'}`}
      onPointerDown={(event) => {
        dragged.current = false
        if (place !== null) event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={(event) => {
        if (place === null) {
          const there = at(event)
          if (there) event.currentTarget.dataset.at = `${there.x} ${there.y}`
          else delete event.currentTarget.dataset.at
        } else if (event.buttons === 1 && middle) {
          dragged.current = dragged.current || Math.abs(event.movementX) + Math.abs(event.movementY) > 0
          onPlace(
            within(
              { x: middle.x - event.movementX / pixels.width, y: middle.y - event.movementY / pixels.height },
              pixels,
              window_,
            ),
          )
        }
      }}
      onPointerLeave={(event) => {
        delete event.currentTarget.dataset.at
      }}
      onPointerUp={(event) => {
        if (place === null) onPlace(at(event) ?? { x: 0.5, y: 0.5 })
        else if (!dragged.current) onPlace(null)
      }}
    >
      {place !== null && (
        <img
          src={pictureUrl(16384, picture)}
          alt={`${name} at 1:1`}
          draggable={false}
          className={`absolute max-w-none ${middle ? '' : 'invisible'}`}
          style={
            middle
              ? {
                  width: pixels.width,
                  height: pixels.height,
                  left: window_.width / 2 - middle.x * pixels.width,
                  top: window_.height / 2 - middle.y * pixels.height,
                }
              : undefined
          }
          onLoad={({ currentTarget }) => {
            setWhole({ width: currentTarget.naturalWidth, height: currentTarget.naturalHeight })
          }}
          onError={() => {
            setFailed(true)
          }}
        />
      )}
      {place !== null && !middle && (
        <p className="grid h-full place-items-center">
          {failed ? `${name} cannot be shown at 1:1.` : 'Fetching it at 1:1…'}
        </p>
      )}
    </div>
  )
}
