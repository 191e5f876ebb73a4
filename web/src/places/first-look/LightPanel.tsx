import { useCallback } from 'react'
import { BINS, percent, type Light } from '../../model/light'
import { classes } from '../../parts/classes'
import { texts } from './texts'

/** How the light of the frame at hand is spread: filled by luminance, a line by the brightest channel. */
export function LightPanel({ light, isAboveCaption }: { light: Light | null; isAboveCaption: boolean }) {
  return (
    <figure
      aria-label={texts.light}
      className={classes(
        'pointer-events-none absolute left-3 z-20 w-[176px] bg-mat-deep p-2 text-[12px]',
        isAboveCaption ? 'bottom-9' : 'bottom-3 xl:left-6',
      )}
    >
      <svg viewBox={`0 0 ${BINS} 32`} preserveAspectRatio="none" className="h-14 w-full" aria-hidden="true">
        <path d={light ? `M0 32${outline(light.luminance)}V32Z` : ''} fill="currentColor" fillOpacity="0.6" />
        <path
          d={light ? `M0 32${outline(light.brightest)}V32` : ''}
          fill="none"
          stroke="currentColor"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <figcaption className="mt-1 flex justify-between">
        {light ? (
          <>
            <span>black {percent(light.black)}</span>
            <span>blown {percent(light.blown)}</span>
          </>
        ) : (
          texts.measuring
        )}
      </figcaption>
    </figure>
  )
}

/** Steps from left to right; what lies at both ends may go over the top, or nothing else would be seen. */
function outline(bins: readonly number[]): string {
  const most = Math.max(...bins.slice(1, -1), 1e-6)
  return bins.map((share, bin) => `V${(32 - Math.min(1, share / most) * 31).toFixed(2)}H${bin + 1}`).join('')
}

/** Clipped areas, hatched over the frame. */
export function ClippedAreas({ lines }: { lines: ImageData }) {
  const draw = useCallback(
    (canvas: HTMLCanvasElement | null) => {
      canvas?.getContext('2d')?.putImageData(lines, 0, 0)
    },
    [lines],
  )
  return (
    <canvas
      ref={draw}
      width={lines.width}
      height={lines.height}
      aria-hidden="true"
      className="pointer-events-none absolute inset-0 m-auto h-full w-full object-contain p-[inherit]"
    />
  )
}
