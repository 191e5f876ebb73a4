import { useEffect, useRef, useState } from 'react'
import { pictureUrl, recordingUrl } from '../api/client'
import type { Place } from '../model/closer'
import { fetchAhead, fetchFor, readySize, REST, SIZES, type Size } from './ahead'
import { Closer } from './Closer'

interface Props {
  name: string
  picture: string | null
  /** `movie` and `sound` are played. */
  kinds: string
  /** Where every pixel is shown; null for all of the picture, and undefined where that is not offered. */
  closer?: Place | null
  onCloser?: (place: Place | null) => void
}

/** One frame as large as there is room; the page gives a `key` to each. */
export function OnStage({ name, picture, kinds, closer, onCloser }: Props) {
  const [failed, setFailed] = useState(false)
  const [unplayable, setUnplayable] = useState(false)
  if (picture === null || (failed && kinds !== 'sound')) {
    return (
      <div className="grid h-full place-items-center text-center">There is no picture in {name} that can be shown.</div>
    )
  }
  const player = {
    controls: true,
    src: recordingUrl(picture),
    'aria-label': name,
    onError: () => {
      setUnplayable(true)
    },
  }
  if (kinds === 'movie' && !unplayable) {
    return (
      <video
        {...player}
        poster={pictureUrl(1024, picture)}
        className="absolute inset-0 m-auto h-full w-full object-contain p-[inherit]"
      />
    )
  }
  return (
    <>
      {!failed && <Still name={name} picture={picture} onFail={setFailed} />}
      {!failed && kinds !== 'sound' && onCloser && (
        <Closer key={picture} name={name} picture={picture} place={closer ?? null} onPlace={onCloser} />
      )}
      {kinds === 'sound' && !unplayable && (
        <audio {...player} className="absolute inset-x-0 bottom-6 mx-auto w-[min(36rem,90%)]" />
      )}
      {unplayable && (
        <p className="absolute inset-x-0 bottom-3 text-center text-[13px]">
          <span className="bg-[#2b2b2b] px-3 py-1 text-[#f2f2f2]">
            {kinds === 'movie'
              ? `A still from ${name}: this browser cannot play the movie.`
              : `This browser cannot play ${name}.`}
          </span>
        </p>
      )}
    </>
  )
}

/** What is ready at once, and each larger picture in its place as soon as it is decoded, as far as there is room. */
function Still({ name, picture, onFail }: { name: string; picture: string; onFail: (failed: true) => void }) {
  const [size, setSize] = useState<Size | null>(() => readySize(picture))
  const box = useRef<HTMLImageElement>(null)
  useEffect(() => {
    let isShown = true
    const show = (each: Size) => {
      if (isShown) setSize((now) => (now !== null && now > each ? now : each))
    }
    const [smallest] = SIZES
    if (readySize(picture) === null) {
      fetchAhead(smallest, picture).then(
        () => {
          show(smallest)
        },
        () => undefined, // a larger one may be there
      )
    }
    // also when there is more room than before
    const watch = new ResizeObserver(() => {
      fetchFor(picture, box.current, show).catch(() => {
        if (isShown) onFail(true)
      })
    })
    const rest = setTimeout(() => {
      if (box.current) watch.observe(box.current)
    }, REST)
    return () => {
      isShown = false
      clearTimeout(rest)
      watch.disconnect()
    }
  }, [picture, onFail])
  return (
    <img
      ref={box}
      src={size === null ? undefined : pictureUrl(size, picture)}
      alt={name}
      decoding="sync"
      draggable={false}
      className={`absolute inset-0 m-auto h-full w-full object-contain p-[inherit] ${size === null ? 'invisible' : ''}`}
    />
  )
}
