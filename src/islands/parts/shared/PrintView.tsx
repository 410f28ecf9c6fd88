import { memo, type PointerEvent, useMemo } from 'react'
import type { PrintWire } from '../../../contract'
import type { TimeRange } from '../../../core/time-range'
import type { PlayClock } from '../../audio/play-clock'
import { printPaths } from '../../format/print-shapes'
import { Playhead } from './Playhead'

interface PrintViewProps {
  readonly print: PrintWire
  readonly durationS: number
  readonly widthPx: number
  readonly heightPx: number
  /** Shared scale in a list; the whole sound in the width when left out. */
  readonly pxPerS?: number
  /** Of the sound, while it is the one that is heard: it has a playhead then. */
  readonly clock?: PlayClock | null
  /** A place in the print was clicked, or dragged to. Seconds from the start of the sound. */
  readonly onPick?: (timeS: number) => void
  /** Follows the pointer while it is held down. */
  readonly onScrub?: (timeS: number) => void
  /** The marked part, s. */
  readonly part?: TimeRange | null
  readonly onHover?: () => void
}

/** The picture of a sound: four bands stacked as a ribbon over time. */
export function PrintView({ print, durationS, widthPx, heightPx, pxPerS, clock = null, ...rest }: PrintViewProps) {
  const { onPick, onScrub, onHover, part = null } = rest
  const scale = pxPerS ?? widthPx / Math.max(0.05, durationS)
  const pick = (event: PointerEvent<SVGSVGElement>): void => {
    if (!onPick || event.button !== 0) return
    if (onScrub) event.currentTarget.setPointerCapture(event.pointerId)
    onPick(placeOf(event))
  }
  const scrub = (event: PointerEvent<SVGSVGElement>): void => {
    if (onScrub && event.buttons === 1) onScrub(placeOf(event))
  }
  const placeOf = (event: PointerEvent<SVGSVGElement>): number => {
    const box = event.currentTarget.getBoundingClientRect()
    const at = ((event.clientX - box.left) / box.width) * (widthPx / scale)
    return Math.max(0, Math.min(durationS - 0.01, at))
  }
  const cut = durationS * scale > widthPx + 1
  return (
    <div className="relative max-w-full overflow-hidden" style={{ width: widthPx, height: heightPx }}>
      <svg
        viewBox={`0 0 ${widthPx} ${heightPx}`}
        preserveAspectRatio="none"
        className={`block size-full ${onPick ? 'cursor-pointer' : ''} ${cut ? 'fade-right' : ''}`}
        onPointerDown={pick}
        onPointerMove={scrub}
        onPointerEnter={onHover}
        aria-hidden="true"
        data-print
      >
        {part && (
          <rect
            x={part.startS * scale}
            width={Math.max(1, (part.endS - part.startS) * scale)}
            y="0"
            height={heightPx}
            fill="var(--color-primary)"
            opacity="0.35"
            data-part
          />
        )}
        <Bands print={print} heightPx={heightPx} pxPerS={scale} maxWidthPx={widthPx} />
      </svg>
      {clock && <Playhead clock={clock} widthS={widthPx / scale} />}
    </div>
  )
}

const Bands = memo(function Bands(props: { print: PrintWire; heightPx: number; pxPerS: number; maxWidthPx: number }) {
  const { print, heightPx, pxPerS, maxWidthPx } = props
  const paths = useMemo(
    () => printPaths(print, { heightPx, pxPerS, maxWidthPx }),
    [print, heightPx, pxPerS, maxWidthPx],
  )
  return paths.map((path, band) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the index is the band
    <path key={band} d={path} fill={`var(--band-${band + 1})`} />
  ))
})
