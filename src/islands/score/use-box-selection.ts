import { type PointerEvent, useRef, useState } from 'react'
import { type Placement, placementEndS } from '../../core/score'
import { pxIn } from '../time-map/px-in'
import type { Scale } from '../time-map/view'
import type { LayerRowPlace } from './score-shapes'

/** A pointer that moves less has clicked. */
const DRAG_MIN_PX = 4

/** A box that is drawn over the layers, px. */
export interface SelectionBox {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

interface BoxSelectionOptions {
  readonly scale: Scale
  readonly placements: readonly Placement[]
  /** Row of each layer, by its id. */
  readonly rowOf: ReadonlyMap<string, LayerRowPlace>
  readonly onChoose: (ids: readonly string[], adds: boolean) => void
}

/** Drawing a box over the layers chooses what it touches; with Shift beside what is chosen. A click on nothing chooses nothing. */
export function useBoxSelection({ scale, placements, rowOf, onChoose }: BoxSelectionOptions) {
  const from = useRef<{ readonly x: number; readonly y: number } | null>(null)
  const [box, setBox] = useState<SelectionBox | null>(null)
  const at = (event: PointerEvent<HTMLElement>) => ({
    x: pxIn(event),
    y: event.clientY - event.currentTarget.getBoundingClientRect().top,
  })
  const end = (): void => {
    from.current = null
    setBox(null)
  }
  return {
    box,
    pointer: {
      onPointerDown: (event: PointerEvent<HTMLElement>): void => {
        // What lies on the layers is taken by itself.
        if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return
        event.currentTarget.setPointerCapture(event.pointerId)
        from.current = at(event)
      },
      onPointerMove: (event: PointerEvent<HTMLElement>): void => {
        const start = from.current
        if (!start) return
        const now = at(event)
        if (!box && Math.hypot(now.x - start.x, now.y - start.y) < DRAG_MIN_PX) return
        setBox({
          left: Math.min(start.x, now.x),
          top: Math.min(start.y, now.y),
          right: Math.max(start.x, now.x),
          bottom: Math.max(start.y, now.y),
        })
      },
      onPointerUp: (event: PointerEvent<HTMLElement>): void => {
        if (!from.current) return
        onChoose(box ? touched(box, { scale, placements, rowOf }) : [], event.shiftKey)
        end()
      },
      onPointerCancel: end,
    },
  }
}

/** Ids of the placements that a box touches. */
export function touched(
  { left, top, right, bottom }: SelectionBox,
  { scale, placements, rowOf }: Pick<BoxSelectionOptions, 'scale' | 'placements' | 'rowOf'>,
): string[] {
  return placements
    .filter((placement) => {
      const row = rowOf.get(placement.layerId)
      return (
        row !== undefined &&
        row.topPx < bottom &&
        row.topPx + row.heightPx > top &&
        scale.x(placement.startS) < right &&
        scale.x(placementEndS(placement)) > left
      )
    })
    .map(({ id }) => id)
}
