import { type PointerEvent, useEffect, useRef } from 'react'
import type { MapInk } from './draw'
import type { PeakSource } from './peaks'
import { pxIn } from './px-in'
import { pannedBy, type TimeView } from './view'
import { useIsWhole, useMoved, type ViewStore } from './view-store'

const OVERVIEW_PX = 22

interface OverviewProps {
  readonly store: ViewStore
  readonly durationS: number
  readonly widthPx: number
  readonly peaks: PeakSource | null
  /** Where marks are, s. */
  readonly marksS: readonly number[]
  readonly ink: MapInk
}

/** The whole track in a strip, with the stretch that the map shows: dragged, it pans. */
export function Overview({ store, durationS, widthPx, peaks, marksS, ink }: OverviewProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const windowRef = useRef<HTMLDivElement>(null)
  const isWhole = useIsWhole(store, durationS)
  useMoved(() => {
    const element = windowRef.current
    if (!element) return
    const { startS, endS } = store.now()
    const width = Math.max(6, Math.round(((endS - startS) / durationS) * widthPx))
    const left = Math.min(Math.round((startS / durationS) * widthPx), widthPx - width)
    element.style.transform = `translateX(${left}px)`
    element.style.width = `${width}px`
  }, store)
  useEffect(() => {
    const draw = (): void => {
      const canvas = canvasRef.current
      const context = canvas?.getContext('2d')
      if (!canvas || !context) return
      canvas.width = widthPx
      canvas.height = OVERVIEW_PX
      const columns = peaks?.columns(0, durationS, widthPx)
      context.fillStyle = ink.noise
      for (let column = 0; columns && column < widthPx; column++) {
        const high = Math.max(columns[2 * column + 1] as number, -(columns[2 * column] as number))
        context.fillRect(column, OVERVIEW_PX - 1 - high * (OVERVIEW_PX - 6), 1, high * (OVERVIEW_PX - 6) + 1)
      }
      context.fillStyle = ink.ink
      for (const timeS of marksS) context.fillRect(Math.round((timeS / durationS) * widthPx), 0, 1, 4)
    }
    draw()
    return peaks?.subscribe(draw)
  }, [peaks, durationS, widthPx, marksS, ink])
  const dragRef = useRef<{ fromPx: number; view: TimeView } | null>(null)
  const onDown = (event: PointerEvent): void => {
    event.currentTarget.setPointerCapture(event.pointerId)
    const atS = (pxIn(event) / widthPx) * durationS
    const view = store.now()
    const inside = atS >= view.startS && atS <= view.endS
    const spanS = view.endS - view.startS
    // Beside the window it goes there first.
    const from = inside ? view : pannedBy(view, atS - spanS / 2 - view.startS, durationS)
    store.set(from)
    dragRef.current = { fromPx: pxIn(event), view: from }
  }
  const onMove = (event: PointerEvent): void => {
    const drag = dragRef.current
    if (drag) store.set(pannedBy(drag.view, ((pxIn(event) - drag.fromPx) / widthPx) * durationS, durationS))
  }
  return (
    <div
      className="relative cursor-grab touch-none active:cursor-grabbing"
      style={{ height: OVERVIEW_PX, width: widthPx }}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={() => {
        dragRef.current = null
      }}
      aria-hidden="true"
      data-testid="map-overview"
    >
      <canvas ref={canvasRef} className="block" style={{ width: widthPx, height: OVERVIEW_PX }} />
      {!isWhole && (
        <div
          ref={windowRef}
          className="pointer-events-none absolute inset-y-0 left-0 border-base-content border-x-2 bg-base-content/15 will-change-transform"
        />
      )}
    </div>
  )
}
