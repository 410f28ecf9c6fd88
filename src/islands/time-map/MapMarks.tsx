import { memo, type PointerEvent, type ReactNode, useMemo, useRef } from 'react'
import type { MapInk } from './draw'
import { type DrawnMark, LANE_PX } from './draw-marks'
import { placedMarks } from './lanes'
import { usePlacedMarks } from './use-placed-marks'
import { scaleOf } from './view'
import type { ViewStore } from './view-store'

/** A pointer that moves less has clicked. */
const DRAG_MIN_PX = 3

/** A mark with what it looks like and says. */
export interface ShownMark extends DrawnMark {
  /** Class of the bar. */
  readonly barClass: string
  /** Before the label. */
  readonly symbol?: ReactNode
  /** Name for those who do not see it. */
  readonly spoken: string
}

interface PickKeys {
  readonly shiftKey: boolean
  readonly ctrlKey: boolean
}

interface MapMarksProps<T extends ShownMark> {
  readonly store: ViewStore
  readonly widthPx: number
  readonly ink: MapInk
  /** By start. */
  readonly marks: readonly T[]
  readonly lanesMax: number
  readonly chosenIds: ReadonlySet<string>
  readonly label: string
  readonly onPick: (mark: T, event: PickKeys) => void
  /** Dragged by so much, s; `isEnd` once it is let go. Where it is not given, marks stay. */
  readonly onDrag?: (mark: T, byS: number, isEnd: boolean) => void
}

/** Marks under the map, each at its place in a lane. They are rendered once; the view moves them without rendering them anew. */
export function MapMarks<T extends ShownMark>(props: MapMarksProps<T>) {
  const { store, widthPx, ink, marks, lanesMax, chosenIds, label } = props
  const listRef = useRef<HTMLUListElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const { onDown, onPick, onMove, onUp } = useMarkPointer(props)
  // As many as the whole needs, so that what is below does not move while the map is zoomed.
  const lanes = useMemo(() => {
    const endS = marks.reduce((most, one) => Math.max(most, one.endS ?? one.startS), 1)
    const whole = placedMarks(marks, { startS: 0, endS }, widthPx, { lanesMax })
    return whole.reduce((most, { lane }) => Math.max(most, lane + 1), 1)
  }, [marks, widthPx, lanesMax])
  const heightPx = lanes * LANE_PX
  usePlacedMarks({ list: listRef, canvas: canvasRef }, { store, widthPx, heightPx, marks, lanesMax, chosenIds, ink })
  return (
    <div className="relative mt-1">
      <canvas
        ref={canvasRef}
        hidden
        className="pointer-events-none absolute top-0 left-0 block"
        style={{ width: widthPx, height: heightPx }}
      />
      <ul
        ref={listRef}
        aria-label={label}
        className="relative overflow-hidden [contain:strict]"
        style={{ height: heightPx }}
        onPointerMove={onMove}
        onPointerUp={onUp}
      >
        {marks.map((mark) => (
          <Mark
            key={mark.id}
            mark={mark}
            isChosen={chosenIds.has(mark.id)}
            isDraggable={props.onDrag !== undefined}
            onDown={onDown}
            onPick={onPick}
          />
        ))}
      </ul>
    </div>
  )
}

/** Picking and dragging. The handlers stay the same, so that a mark is rendered anew only when it changes itself. */
function useMarkPointer<T extends ShownMark>(props: MapMarksProps<T>) {
  const live = useRef(props)
  live.current = props
  return useMemo(() => {
    let drag: { mark: T; fromPx: number; moved: boolean } | null = null
    const find = (id: string): T | undefined => live.current.marks.find((one) => one.id === id)
    const byS = (event: PointerEvent, fromPx: number): number =>
      (event.clientX - fromPx) / scaleOf(live.current.store.now(), live.current.widthPx).pxPerS
    return {
      onDown(id: string, event: PointerEvent<HTMLButtonElement>): void {
        const mark = find(id)
        if (!mark || !live.current.onDrag || event.button !== 0) return
        event.currentTarget.closest('ul')?.setPointerCapture(event.pointerId)
        drag = { mark, fromPx: event.clientX, moved: false }
      },
      onMove(event: PointerEvent): void {
        const { onDrag } = live.current
        if (!drag || !onDrag || (!drag.moved && Math.abs(event.clientX - drag.fromPx) < DRAG_MIN_PX)) return
        drag.moved = true
        onDrag(drag.mark, byS(event, drag.fromPx), false)
      },
      onUp(event: PointerEvent): void {
        const dropped = drag
        drag = null
        if (dropped?.moved) live.current.onDrag?.(dropped.mark, byS(event, dropped.fromPx), true)
      },
      onPick(id: string, keys: PickKeys): void {
        const mark = find(id)
        if (mark) live.current.onPick(mark, keys)
      },
    }
  }, [])
}

interface MarkProps {
  readonly mark: ShownMark
  readonly isChosen: boolean
  readonly isDraggable: boolean
  readonly onDown: (id: string, event: PointerEvent<HTMLButtonElement>) => void
  readonly onPick: (id: string, keys: PickKeys) => void
}

const Mark = memo(function Mark({ mark, isChosen, isDraggable, onDown, onPick }: MarkProps) {
  return (
    <li className="absolute top-0 left-0 hover:z-10 focus-within:z-10">
      <button
        type="button"
        data-part="mark"
        className={`group absolute top-0 left-0 block h-7 text-left ${isDraggable ? 'cursor-ew-resize touch-none' : ''} ${isChosen ? 'font-semibold' : ''}`}
        aria-pressed={isChosen}
        aria-label={mark.spoken}
        onPointerDown={(event) => onDown(mark.id, event)}
        onClick={(event) => onPick(mark.id, event)}
      >
        <span
          data-part="bar"
          className={`${mark.barClass} absolute top-0 left-0 block h-2 ${isChosen ? 'outline-2 outline-offset-1 outline-primary' : ''}`}
        />
        <span
          data-part="label"
          className="absolute top-2 left-0 inline-flex items-center gap-1 whitespace-nowrap pt-px text-[13px] leading-tight group-data-bare:hidden group-data-bare:bg-base-100 group-data-bare:pr-1 group-data-bare:group-hover:inline-flex group-data-bare:group-focus-visible:inline-flex"
        >
          {mark.symbol}
          {mark.label}
        </span>
      </button>
    </li>
  )
})
