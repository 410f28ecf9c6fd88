import { type PointerEvent, useRef } from 'react'
import { hitTimeS, type Placement, placementEndS, wholeBeds } from '../../core/score'
import { type Scale, snapped } from '../time-map/view'
import type { PlaceActions } from './use-place-actions'
import type { PlaceDesk } from './use-score-desk'

/** A dragged hit goes to what is so near, px. */
const SNAP_PX = 8
/** Ends are taken within this, px. */
export const END_PX = 7
const DRAG_MIN_PX = 3

/** What is being dragged: all of it, or one end. */
export interface PrintDrag {
  readonly ids: ReadonlySet<string>
  readonly what: 'all' | 'start' | 'end'
  readonly byS: number
}

interface PrintDragOptions {
  readonly placement: Placement
  readonly scale: Scale
  readonly widthPx: number
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  readonly onDrag: (drag: PrintDrag | null) => void
}

/** Dragging a print: it goes to moments, shot changes and other hits; with Alt it goes anywhere. */
export function usePrintDrag({ placement, scale, widthPx, placeDesk, actions, onDrag }: PrintDragOptions) {
  // As it was when the pointer went down: what is shown moves with it.
  const from = useRef<{
    readonly px: number
    readonly what: PrintDrag['what']
    readonly placement: Placement
    moved: boolean
  } | null>(null)
  // One of several that are chosen takes the others with it.
  const together = (one: Placement): readonly Placement[] =>
    placeDesk.chosenIds.has(one.id) ? placeDesk.chosen : wholeBeds(placeDesk.score, [one])
  const wasDragged = useRef(false)
  const byOf = (event: PointerEvent): number => {
    const start = from.current
    if (!start) return 0
    const byS = (event.clientX - start.px) / scale.pxPerS
    return event.altKey || start.what !== 'all' ? byS : snappedBy(start.placement, byS, scale, placeDesk)
  }
  return {
    /** Whether the click that comes now is the end of dragging. */
    wasDragged,
    onPointerDown: (event: PointerEvent<HTMLButtonElement>): void => {
      wasDragged.current = false
      if (event.button !== 0) return
      event.currentTarget.setPointerCapture(event.pointerId)
      const at = event.clientX - event.currentTarget.getBoundingClientRect().left
      const isEnd = widthPx > 4 * END_PX
      const what = isEnd && at < END_PX ? 'start' : isEnd && at > widthPx - END_PX ? 'end' : 'all'
      from.current = { px: event.clientX, what, placement, moved: false }
    },
    onPointerMove: (event: PointerEvent<HTMLButtonElement>): void => {
      const start = from.current
      if (!start || (!start.moved && Math.abs(event.clientX - start.px) < DRAG_MIN_PX)) return
      start.moved = true
      // An end is trimmed of this one only, with the rest of its bed.
      const taken = start.what === 'all' ? together(start.placement) : wholeBeds(placeDesk.score, [start.placement])
      onDrag({ ids: new Set(taken.map(({ id }) => id)), what: start.what, byS: byOf(event) })
    },
    onPointerUp: (event: PointerEvent<HTMLButtonElement>): void => {
      const start = from.current
      const byS = byOf(event)
      from.current = null
      onDrag(null)
      if (!start?.moved) return
      wasDragged.current = true
      const { placement: at } = start
      if (start.what === 'all') actions.move(together(at), byS)
      else {
        actions.trim(at, start.what, (start.what === 'start' ? at.startS : placementEndS(at)) + byS)
      }
    },
    onPointerCancel: (): void => {
      from.current = null
      onDrag(null)
    },
  }
}

function snappedBy(placement: Placement, byS: number, scale: Scale, { moments, content, score }: PlaceDesk): number {
  const hitS = hitTimeS(placement) ?? placement.startS
  const own = new Set(wholeBeds(score, [placement]).map(({ id }) => id))
  const others = score.placements.filter(({ id }) => !own.has(id)).map((one) => hitTimeS(one) ?? one.startS)
  const marks = [...moments.map(({ atS }) => atS), ...content.shotChangesS, ...others]
  return snapped(hitS + byS, marks, SNAP_PX / scale.pxPerS) - hitS
}
