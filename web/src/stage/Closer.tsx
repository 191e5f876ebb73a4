import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react'
import { pointed, within, type Place } from '../model/closer'
import { lookAtWhole, readyWhole } from './wholes'

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
  const [window_, setWindow] = useState({ width: 0, height: 0 })
  const { whole, failed } = useWhole(place === null ? null : picture)
  const dragged = useRef(false)
  // known before it is painted: the next frame stands where the last one stood
  useLayoutEffect(() => {
    if (!box.current) return
    const fit = ({ width, height }: DOMRectReadOnly) => {
      setWindow({ width, height })
    }
    fit(box.current.getBoundingClientRect())
    const seen = new ResizeObserver(([entry]) => {
      if (entry) fit(entry.contentRect)
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
      {whole && middle && <Pixels name={name} whole={whole} middle={middle} window={window_} />}
      {place !== null && !middle && (
        <p className="grid h-full place-items-center">
          {failed ? `${name} cannot be shown at 1:1.` : 'Fetching it at 1:1…'}
        </p>
      )}
    </div>
  )
}

/** A picture with every pixel, once it is decoded. */
function useWhole(picture: string | null): { whole: ImageBitmap | null; failed: boolean } {
  const [whole, setWhole] = useState<ImageBitmap | null>(null)
  const [failed, setFailed] = useState(false)
  useEffect(() => {
    if (picture === null) return
    let isMeant = true
    const { bitmap, end } = lookAtWhole(picture)
    bitmap.then(
      (decoded) => {
        if (isMeant) setWhole(decoded)
      },
      () => {
        if (isMeant) setFailed(true)
      },
    )
    return () => {
      isMeant = false
      setWhole(null)
      setFailed(false)
      end()
    }
  }, [picture])
  return { whole: whole ?? (picture === null ? null : readyWhole(picture)), failed }
}

interface PixelsProps {
  name: string
  whole: ImageBitmap
  middle: Place
  window: { width: number; height: number }
}

/**
 * As much of a picture as there is room for, one of its pixels to each of the screen. `data-from` says which one is in
 * the upper left corner.
 */
function Pixels({ name, whole, middle, window }: PixelsProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const width = Math.round(window.width * devicePixelRatio)
  const height = Math.round(window.height * devicePixelRatio)
  const left = Math.round(middle.x * whole.width - width / 2)
  const top = Math.round(middle.y * whole.height - height / 2)
  useLayoutEffect(() => {
    // read often: it is drawn here, and the picture is not taken to the graphics card as a whole
    const drawn = canvas.current?.getContext('2d', { willReadFrequently: true })
    drawn?.clearRect(0, 0, width, height)
    drawn?.drawImage(whole, -left, -top)
  }, [whole, left, top, width, height])
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`${name} at 1:1`}
      data-from={`${left} ${top}`}
      width={width}
      height={height}
      className="absolute inset-0 h-full w-full"
    />
  )
}
