import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import {
  type Fade,
  type Placement,
  placementEndS,
  placementLengthS,
  withMovedBreakPoint,
  withoutBreakPoint,
} from '../../../core/score'
import { messages } from '../../../messages'
import { handleValues, lineBounds, type PrintHandle, printHandles } from '../../score/print-handles'
import { levelY } from '../../score/score-shapes'
import type { PlaceActions } from '../../score/use-place-actions'
import { END_PX } from '../../score/use-print-drag'
import type { Scale } from '../../time-map/view'
import type { PrintBox } from './PlacedPrint'

/** A handle is taken within this, px. */
const HANDLE_PX = 24
/** The ends of fades stand so far below the top of the row, px: below them there is room to take the sound. */
const FADE_PX = 8
/** Levels move by so much with each px up, dB. */
const DB_PER_PX = 0.25
const KEY_STEP_S = 0.01
const KEY_STEP_DB = 0.5
const SHIFT_TIMES = 10

interface PrintHandlesProps {
  readonly placement: Placement
  readonly scale: Scale
  /** Where its print is drawn. */
  readonly box: PrintBox
  readonly actions: PlaceActions
  /** What it would be with the handle where it is dragged to; null when nothing is dragged. */
  readonly onPreview: (placement: Placement | null) => void
}

/** The points of the line of a chosen sound, and the ends of its fades: dragged, or moved by the arrow keys when they have the focus. */
export function PrintHandles({ placement, scale, box, actions, onPreview }: PrintHandlesProps) {
  return printHandles(placement).map((handle) => (
    <Handle key={handle.key} {...{ handle, placement, scale, box, actions, onPreview }} />
  ))
}

/** A placement with one of its handles moved. */
function withMoved(placement: Placement, handle: PrintHandle, byS: number, byDb: number): Partial<Placement> {
  const lengthS = placementLengthS(placement)
  if (handle.what === 'point') {
    const point = placement.gainPoints[handle.index]
    if (!point) return {}
    const to = { atS: point.atS + byS, value: Math.round(10 * (point.value + byDb)) / 10 }
    const bounds = lineBounds(placement, 'gainPoints')
    return { gainPoints: withMovedBreakPoint(placement.gainPoints, handle.index, to, bounds) }
  }
  const isIn = handle.what === 'fadeIn'
  const other = (isIn ? placement.fadeOut : placement.fadeIn)?.lengthS ?? 0
  const now = placement[handle.what]
  const lengthOfFadeS = Math.min(lengthS - other, Math.max(0, (now?.lengthS ?? 0) + (isIn ? byS : -byS)))
  const fade: Fade | null =
    lengthOfFadeS > 0
      ? {
          lengthS: lengthOfFadeS,
          curve: now?.curve ?? 'equal-power',
          isAutomatic: lengthOfFadeS === now?.lengthS && now.isAutomatic,
        }
      : null
  return { [handle.what]: fade }
}

/** Where a handle stands: that of a short fade so far inside that the end of the print can still be taken. */
function handleX(handle: PrintHandle, placement: Placement, scale: Scale): number {
  const x = scale.x(placement.startS + handle.atS)
  const insidePx = END_PX + HANDLE_PX / 2
  if (handle.what === 'fadeIn') return Math.max(x, scale.x(placement.startS) + insidePx)
  if (handle.what === 'fadeOut') return Math.min(x, scale.x(placementEndS(placement)) - insidePx)
  return x
}

type HandleProps = PrintHandlesProps & { readonly handle: PrintHandle }

function Handle({ handle, placement, scale, box, actions, onPreview }: HandleProps) {
  // As it was when the pointer went down: what is shown moves with it.
  const from = useRef<{ readonly x: number; readonly y: number; readonly placement: Placement } | null>(null)
  const [isDragged, setIsDragged] = useState(false)
  const atS = handle.atS
  const x = handleX(handle, placement, scale)
  const printPx = box.rowPx - 2 * box.insetPx
  const inRow = handle.what === 'point' ? box.insetPx + (printPx * levelY(placement, atS)) / 100 : FADE_PX
  const y = box.rowTopPx + inRow
  const words = handleValues(handle)
  const change = (one: Placement, byS: number, byDb: number): void => {
    // A point is of the line of one stem; fades are of the whole bed.
    if (handle.what === 'point')
      actions.changeStem(one, () => withMoved(one, handle, byS, byDb), messages.score.moveAPoint)
    else actions.changeSafely(() => withMoved(one, handle, byS, byDb), messages.score.fade)
  }
  const movedBy = (event: PointerEvent): readonly [number, number] => {
    const start = from.current
    return start ? [(event.clientX - start.x) / scale.pxPerS, (start.y - event.clientY) * DB_PER_PX] : [0, 0]
  }
  const onKeyDown = (event: KeyboardEvent): void => {
    const times = event.shiftKey ? SHIFT_TIMES : 1
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-KEY_STEP_S * times, 0],
      ArrowRight: [KEY_STEP_S * times, 0],
      ArrowUp: [0, KEY_STEP_DB * times],
      ArrowDown: [0, -KEY_STEP_DB * times],
    }
    const step = steps[event.key]
    if (step) change(placement, ...step)
    else if (event.key !== 'Delete' && event.key !== 'Backspace') return
    else if (handle.what === 'point')
      actions.changeStem(
        placement,
        () => ({ gainPoints: withoutBreakPoint(placement.gainPoints, handle.index) }),
        messages.score.removeAPoint,
      )
    else actions.changeSafely(() => ({ [handle.what]: null }), messages.score.fade)
    event.preventDefault()
  }
  return (
    <button
      type="button"
      data-step-keys="handle"
      data-handle={handle.key}
      className="absolute z-20 grid touch-none cursor-move place-items-center"
      style={{ left: x - HANDLE_PX / 2, top: y - HANDLE_PX / 2, width: HANDLE_PX, height: HANDLE_PX }}
      aria-label={words}
      title={words}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        if (event.button !== 0) return
        event.currentTarget.setPointerCapture(event.pointerId)
        from.current = { x: event.clientX, y: event.clientY, placement }
      }}
      onPointerMove={(event) => {
        const start = from.current
        if (!start) return
        setIsDragged(true)
        onPreview({ ...start.placement, ...withMoved(start.placement, handle, ...movedBy(event)) })
      }}
      onPointerUp={(event) => {
        const start = from.current
        const by = movedBy(event)
        from.current = null
        setIsDragged(false)
        onPreview(null)
        if (start && (by[0] !== 0 || by[1] !== 0)) change(start.placement, ...by)
      }}
      onPointerCancel={() => {
        from.current = null
        setIsDragged(false)
        onPreview(null)
      }}
    >
      <span
        aria-hidden="true"
        className={`block size-2.5 border-2 border-primary ${handle.what === 'point' ? 'rounded-full bg-primary' : 'rotate-45 bg-base-100'}`}
      />
      {isDragged && (
        <span className="absolute bottom-full left-1/2 -translate-x-1/2 whitespace-nowrap rounded-sm bg-base-300 px-1.5 text-xs tabular-nums">
          {words}
        </span>
      )}
    </button>
  )
}
