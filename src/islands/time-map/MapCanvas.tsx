import { type RefObject, useEffect, useRef } from 'react'
import type { FrameRate } from '../../core/formats/timecode'
import { drawMap, heightOf, type MapContent, type MapInk, type MapRows } from './draw'
import { sharpContext } from './sharp-context'
import { ticksOf } from './view'
import type { ViewStore } from './view-store'

interface MapCanvasProps {
  readonly store: ViewStore
  readonly widthPx: number
  readonly rows: MapRows
  readonly content: Omit<MapContent, 'ticks'>
  readonly rate: FrameRate
  readonly drop: boolean
  readonly ink: MapInk
  readonly canvasRef: RefObject<HTMLCanvasElement | null>
}

/** What is dense on the map, drawn once a frame at most. */
export function MapCanvas({ store, widthPx, rows, content, rate, drop, ink, canvasRef }: MapCanvasProps) {
  const live = useRef({ widthPx, rows, content, rate, drop, ink })
  live.current = { widthPx, rows, content, rate, drop, ink }
  const askRef = useRef<() => void>(() => {})
  useEffect(() => {
    let frame = 0
    const draw = (): void => {
      frame = 0
      const { widthPx: width, rows: all, content: what, rate: perS, drop: drops, ink: colours } = live.current
      const canvas = canvasRef.current
      const context = canvas && sharpContext(canvas, width, heightOf(all))
      if (!context) return
      const view = store.now()
      drawMap(context, view, width, all, { ...what, ticks: ticksOf(view, width, { rate: perS, drop: drops }) }, colours)
    }
    const ask = (): void => {
      if (frame === 0) frame = requestAnimationFrame(draw)
    }
    askRef.current = ask
    const end = store.subscribe(ask)
    ask()
    return () => {
      end()
      cancelAnimationFrame(frame)
    }
  }, [store, canvasRef])
  // Anything else that changed: drawn anew with the next frame.
  useEffect(() => askRef.current())
  useEffect(() => content.peaks?.subscribe(() => askRef.current()), [content.peaks])
  useEffect(() => content.strip?.subscribe(() => askRef.current()), [content.strip])
  return <canvas ref={canvasRef} className="block" style={{ width: widthPx, height: heightOf(rows) }} />
}
