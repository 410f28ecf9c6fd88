import { hitTimeS, type Placement, placementEndS, placementLengthS } from '../../../core/score'
import { messages } from '../../../messages'
import { levelLine, printRuns, SHAPE_HEIGHT_PX, SHAPE_PX_PER_S, shapesOf } from '../../score/score-shapes'
import type { PlaceActions } from '../../score/use-place-actions'
import { type PrintDrag, usePrintDrag } from '../../score/use-print-drag'
import type { PlaceDesk } from '../../score/use-score-desk'
import type { Scale } from '../../time-map/view'

/** Where a print is drawn: in a row, with so much left free above and below it. */
export interface PrintBox {
  readonly rowTopPx: number
  readonly rowPx: number
  readonly insetPx: number
}

interface PlacedPrintProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  readonly placement: Placement
  readonly scale: Scale
  readonly box: PrintBox
  readonly onDrag: (drag: PrintDrag | null) => void
  readonly isDragged: boolean
}

/** A placed sound: its print, as high as it is loud, with the line of its level; dragged as a whole or by its ends. */
export function PlacedPrint({
  placement,
  scale,
  box: { rowTopPx, rowPx, insetPx },
  placeDesk,
  actions,
  onDrag,
  isDragged,
}: PlacedPrintProps) {
  const { sounds, chosenIds, setChosenIds, timecode } = placeDesk
  const sound = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)
  const isChosen = chosenIds.has(placement.id)
  const widthPx = Math.max(6, placementLengthS(placement) * scale.pxPerS)
  const line = levelLine(placement)
  const lostSpeech = placeDesk.masking.byId.get(placement.id)?.speechLost ?? []
  const { wasDragged, ...pointer } = usePrintDrag({ placement, scale, widthPx, placeDesk, actions, onDrag })
  const title = sound?.title ?? 'A sound'
  const print = sound?.print
  return (
    <button
      type="button"
      className={`absolute block cursor-grab touch-none ${placement.isMuted ? 'opacity-35' : ''}`}
      style={{
        left: scale.x(placement.startS),
        top: rowTopPx,
        width: widthPx,
        height: rowPx,
      }}
      aria-label={messages.score.to(
        title,
        timecode(placement.startS),
        timecode(placementEndS(placement)),
        placement.isMuted ? messages.score.muted : '',
      )}
      aria-pressed={isChosen}
      title={title}
      data-placement={placement.id}
      {...pointer}
      onClick={(event) => {
        placeDesk.setLayerId(null)
        placeDesk.setStemId(placement.id)
        if (wasDragged.current) return
        setChosenIds(event.shiftKey ? new Set([...chosenIds, placement.id]) : new Set([placement.id]))
      }}
    >
      <svg
        width="100%"
        height={rowPx - 2 * insetPx}
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        aria-hidden="true"
        className={`absolute inset-x-0 block rounded-sm ${isChosen ? outlineOf(placement, placeDesk) : ''}`}
        style={{ top: insetPx }}
      >
        {print ? (
          <g transform={placement.isReversed ? 'translate(100 0) scale(-1 1)' : undefined}>
            {printRuns(placement).map(({ key, x, width, fromS, toS }) => (
              <svg
                key={key}
                aria-hidden="true"
                x={x}
                y="0"
                width={width}
                height="100"
                viewBox={`${fromS * SHAPE_PX_PER_S} 0 ${(toS - fromS) * SHAPE_PX_PER_S} ${SHAPE_HEIGHT_PX}`}
                preserveAspectRatio="none"
              >
                {shapesOf(print).map((path, band) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: the bands are always the same four, in order
                  <path key={band} d={path} fill="currentColor" opacity={0.9 - 0.2 * band} />
                ))}
              </svg>
            ))}
          </g>
        ) : (
          <rect x="0" y="30" width="100" height="40" fill="currentColor" opacity="0.25" />
        )}
        {line && (
          <path d={line} fill="none" className="stroke-primary" strokeWidth="1.5" vectorEffect="non-scaling-stroke" />
        )}
      </svg>
      {isDragged && (
        <span
          className="absolute left-0 z-30 -translate-y-full whitespace-nowrap rounded-sm bg-base-300 px-1.5 text-xs tabular-nums"
          style={{ top: insetPx }}
        >
          {timecode(hitTimeS(placement) ?? placement.startS)}, {placementLengthS(placement).toFixed(2)} s
        </span>
      )}
      {lostSpeech.map(({ startS, endS }) => (
        <span
          key={startS}
          data-testid="speech-lost"
          title={messages.score.speechHereIsHardTo}
          className="absolute block h-1 bg-error"
          style={{
            bottom: insetPx,
            left: (startS - placement.startS) * scale.pxPerS,
            width: Math.max(2, (endS - startS) * scale.pxPerS),
          }}
        />
      ))}
    </button>
  )
}

/** Of a chosen bed the stem stands out whose line is shown. */
function outlineOf({ id, bed }: Placement, { stem }: PlaceDesk): string {
  return bed && stem?.id !== id ? 'outline-1 outline-primary/60' : 'outline-2 outline-primary'
}
