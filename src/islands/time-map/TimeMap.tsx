import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useMemo, useRef } from 'react'
import { DEFAULT_FRAME_RATE, type FrameRate } from '../../core/formats/timecode'
import type { TimeRange } from '../../core/time-range'
import { messages } from '../../messages'
import type { PlayClock } from '../audio/play-clock'
import { useWidth } from '../state/use-width'
import { heightOf, type MapContent, type MapInk, rowsOf } from './draw'
import { MapCanvas } from './MapCanvas'
import { Overview } from './Overview'
import { pxIn } from './px-in'
import { useInk } from './use-ink'
import { pannedBy, scaleOf, type TimeView, viewWith, wholeView, zoomedAt } from './view'
import { useIsWhole, useMoved, ViewStore } from './view-store'

const WAVE_PX = 54
/** A pointer that moves less has clicked. */
const DRAG_MIN_PX = 4
const ZOOM_STEP = 0.6
const PAN_SHARE = 0.2
const ZOOM_KEYS_PX = 132

interface TimeMapProps {
  readonly durationS: number
  readonly content: Omit<MapContent, 'ticks'>
  readonly rate?: FrameRate
  readonly drop?: boolean
  readonly wavePx?: number
  readonly clock: PlayClock
  /** The part that is marked, or null. */
  readonly span: TimeRange | null
  readonly onSeek: (timeS: number) => void
  readonly onMark: (span: TimeRange) => void
  /** For the overview. */
  readonly marksS: readonly number[]
  /** What is drawn lies under it: the rows of the place that shows the map. */
  readonly children?: (map: { readonly store: ViewStore; readonly widthPx: number; readonly ink: MapInk }) => ReactNode
  readonly label?: string
  /** Given from outside where something else moves the view too. */
  readonly store: ViewStore
}

/** Makes the view of a map, which begins anew with another length. */
export function useMapView(durationS: number): ViewStore {
  return useMemo(() => new ViewStore(durationS), [durationS])
}

/**
 * A track over time: ruler with timecode, picture strip, waveform, loudness, what it is made of, and under it the rows of its place. The
 * wheel zooms around the pointer, with Shift it pans; a click goes there, dragging marks a part.
 */
export function TimeMap(props: TimeMapProps) {
  const { durationS, content, rate = DEFAULT_FRAME_RATE, drop = false, wavePx = WAVE_PX, clock, span, store } = props
  const { onSeek, onMark, marksS, children, label = messages.sound.timeMapOfTheSound } = props
  const boxRef = useRef<HTMLDivElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const widthPx = useWidth(boxRef, 280)
  const ink = useInk(boxRef)
  const rows = rowsOf(content, wavePx)
  useWheel(boxRef, store, durationS, widthPx)
  const dragRef = useRef<{ fromPx: number; moved: boolean } | null>(null)
  const at = (px: number): number => Math.max(0, Math.min(durationS, scaleOf(store.now(), widthPx).timeAt(px)))
  const onDown = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    dragRef.current = { fromPx: pxIn(event), moved: false }
  }
  const onMove = (event: PointerEvent<HTMLDivElement>): void => {
    const drag = dragRef.current
    const px = pxIn(event)
    if (!drag || (!drag.moved && Math.abs(px - drag.fromPx) < DRAG_MIN_PX)) return
    drag.moved = true
    onMark({ startS: at(Math.min(px, drag.fromPx)), endS: at(Math.max(px, drag.fromPx)) })
  }
  const onUp = (): void => {
    const drag = dragRef.current
    dragRef.current = null
    if (drag && !drag.moved) onSeek(at(drag.fromPx))
  }
  return (
    <section
      aria-label={label}
      className="relative select-none"
      ref={boxRef}
      onKeyDown={(event) => onMapKey(event, store, durationS, clock.now())}
    >
      <div
        className="cursor-pointer touch-pan-y"
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={() => {
          dragRef.current = null
        }}
        data-testid="map-track"
        aria-hidden="true"
        style={{ height: heightOf(rows) }}
      >
        {ink && <MapCanvas {...{ store, widthPx, rows, content, rate, drop, ink, canvasRef }} />}
      </div>
      {content.missing.map(({ startS }) => (
        <span key={startS} data-testid="not-decoded" hidden />
      ))}
      {ink && children?.({ store, widthPx, ink })}
      <Over store={store} widthPx={widthPx} clock={clock} span={span} heightPx={heightOf(rows)} />
      <div className="mt-1 flex items-center gap-2 border-t ruled pt-1">
        {ink && (
          <Overview
            {...{ store, durationS, marksS, ink }}
            widthPx={Math.max(100, widthPx - ZOOM_KEYS_PX)}
            peaks={content.peaks}
          />
        )}
        <ZoomKeys store={store} durationS={durationS} clock={clock} />
      </div>
    </section>
  )
}

/** The wheel zooms; with Shift, or sideways, it pans. */
function useWheel(
  ref: { readonly current: HTMLElement | null },
  store: ViewStore,
  durationS: number,
  widthPx: number,
): void {
  useEffect(() => {
    const element = ref.current
    if (!element) return
    // Measured when the pointer comes, not with each turn of the wheel: that would lay the page out once more a frame.
    let leftPx: number | null = null
    const forget = (): void => {
      leftPx = null
    }
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault()
      const view = store.now()
      const scale = scaleOf(view, widthPx)
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY))
        store.set(pannedBy(view, sideways / scale.pxPerS, durationS))
      else {
        leftPx ??= element.getBoundingClientRect().left
        store.set(zoomedAt(view, Math.exp(event.deltaY / 400), scale.timeAt(event.clientX - leftPx), durationS))
      }
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    element.addEventListener('pointermove', forget)
    window.addEventListener('resize', forget)
    return () => {
      element.removeEventListener('wheel', onWheel)
      element.removeEventListener('pointermove', forget)
      window.removeEventListener('resize', forget)
    }
  }, [ref, store, durationS, widthPx])
}

/** Keys of the map while something in it has the focus. */
function onMapKey(event: KeyboardEvent, store: ViewStore, durationS: number, aroundS: number): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const view = store.now()
  const spanS = view.endS - view.startS
  const next = ((): TimeView | null => {
    switch (event.key) {
      case '+':
        return zoomedAt(view, ZOOM_STEP, aroundS, durationS)
      case '-':
        return zoomedAt(view, 1 / ZOOM_STEP, aroundS, durationS)
      case '0':
        return wholeView(durationS)
      case 'PageUp':
        return pannedBy(view, -PAN_SHARE * spanS, durationS)
      case 'PageDown':
        return pannedBy(view, PAN_SHARE * spanS, durationS)
      default:
        return null
    }
  })()
  if (!next) return
  event.preventDefault()
  store.set(next)
}

function ZoomKeys({ store, durationS, clock }: { store: ViewStore; durationS: number; clock: PlayClock }) {
  const isWhole = useIsWhole(store, durationS)
  const button = 'btn btn-xs btn-square'
  return (
    <fieldset className="flex gap-1" aria-label={messages.sound.zoom}>
      <button
        type="button"
        className={button}
        aria-label={messages.sound.zoomOut}
        disabled={isWhole}
        onClick={() => store.set(zoomedAt(store.now(), 1 / ZOOM_STEP, clock.now(), durationS))}
      >
        −
      </button>
      <button
        type="button"
        className={button}
        aria-label={messages.sound.zoomIn}
        onClick={() => store.set(zoomedAt(store.now(), ZOOM_STEP, clock.now(), durationS))}
      >
        +
      </button>
      <button type="button" className="btn btn-xs" onClick={() => store.set(wholeView(durationS))}>
        {messages.sound.whole}
      </button>
    </fieldset>
  )
}

interface OverProps {
  readonly store: ViewStore
  readonly widthPx: number
  readonly clock: PlayClock
  readonly span: TimeRange | null
  readonly heightPx: number
}

/** The marked part and the playhead, moved without being rendered anew: they follow the view and the clock with every frame. */
function Over({ store, widthPx, clock, span, heightPx }: OverProps) {
  const spanRef = useRef<HTMLDivElement>(null)
  const playheadRef = useRef<HTMLDivElement>(null)
  useMoved(
    () => {
      const { x } = scaleOf(store.now(), widthPx)
      const clip = (value: number): number => Math.max(0, Math.min(widthPx, value))
      const [part, playhead] = [spanRef.current, playheadRef.current]
      if (part && span) {
        part.hidden = x(span.endS) <= 0 || x(span.startS) >= widthPx
        part.style.transform = `translateX(${clip(x(span.startS))}px)`
        part.style.width = `${Math.max(2, clip(x(span.endS)) - clip(x(span.startS)))}px`
      }
      if (!playhead) return
      const px = x(clock.now())
      playhead.hidden = px < -1 || px > widthPx + 1
      playhead.style.transform = `translateX(${Math.max(0, Math.min(widthPx - 2, px))}px)`
    },
    store,
    clock,
  )
  return (
    <>
      {span && (
        <div
          ref={spanRef}
          className="pointer-events-none absolute top-0 left-0 border-primary border-x-2 bg-primary/20"
          style={{ height: heightPx }}
        />
      )}
      <div
        ref={playheadRef}
        className="pointer-events-none absolute top-0 bottom-8 left-0 w-0.5 bg-primary will-change-transform"
        data-testid="map-playhead"
      />
    </>
  )
}

/** Moves the view so that the playhead stays in it while something plays. */
export function useFollow(store: ViewStore, clock: PlayClock, durationS: number, isPlaying: boolean): void {
  useEffect(() => {
    if (!isPlaying) return
    return clock.subscribe(() => store.set(viewWith(store.now(), clock.now(), durationS)))
  }, [store, clock, durationS, isPlaying])
}
