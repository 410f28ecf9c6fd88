import { type RefObject, useLayoutEffect } from 'react'
import type { MapInk } from './draw'
import { type DrawnMark, drawMarks, LANE_PX } from './draw-marks'
import { type PlacedMark, placedMarks } from './lanes'
import { sharpContext } from './sharp-context'
import type { ViewStore } from './view-store'

interface PlacedMarksOptions {
  readonly store: ViewStore
  readonly widthPx: number
  readonly heightPx: number
  /** By start, in the order of the elements. */
  readonly marks: readonly DrawnMark[]
  readonly lanesMax: number
  /** Where it is a single one, its label is always shown. */
  readonly chosenIds: ReadonlySet<string>
  readonly ink: MapInk
}

/** The map stands still when it has not moved for so long, ms. */
const REST_MS = 120

/**
 * Keeps marks at their places. While the view moves they are drawn, once a frame at most: hundreds of elements cannot be laid out that
 * often. As soon as it stands still the elements, which are what is touched, are moved to their places and shown again.
 *
 * Each child of the list is the element of the mark with the same index, with parts named `data-part="mark"`, `"bar"` and `"label"`.
 */
export function usePlacedMarks(
  {
    list: listRef,
    canvas: canvasRef,
  }: { list: RefObject<HTMLElement | null>; canvas: RefObject<HTMLCanvasElement | null> },
  options: PlacedMarksOptions,
): void {
  const { store, widthPx, heightPx, marks, lanesMax, chosenIds, ink } = options
  useLayoutEffect(() => {
    const list = listRef.current
    const canvas = canvasRef.current
    if (!list || !canvas) return
    const chosenId = chosenIds.size === 1 ? ([...chosenIds][0] ?? null) : null
    const places = (): PlacedMark<DrawnMark>[] => placedMarks(marks, store.now(), widthPx, { lanesMax, chosenId })
    const place = placer(list, marks, widthPx)
    place(places())
    let frame = 0
    let timer: ReturnType<typeof setTimeout> | undefined
    const isMoving = (moving: boolean): void => {
      list.style.opacity = moving ? '0' : ''
      canvas.hidden = !moving
    }
    const draw = (): void => {
      frame = 0
      const context = sharpContext(canvas, widthPx, heightPx)
      if (context) drawMarks(context, places(), { widthPx, chosenIds, ink })
      isMoving(true)
    }
    const rest = (): void => {
      cancelAnimationFrame(frame)
      frame = 0
      place(places())
      isMoving(false)
    }
    const end = store.subscribe(() => {
      clearTimeout(timer)
      timer = setTimeout(rest, REST_MS)
      if (frame === 0) frame = requestAnimationFrame(draw)
    })
    return () => {
      end()
      clearTimeout(timer)
      cancelAnimationFrame(frame)
      isMoving(false)
    }
  }, [listRef, canvasRef, store, widthPx, heightPx, marks, lanesMax, chosenIds, ink])
}

/** Place of an element, px. */
interface Place {
  readonly leftPx: number
  readonly topPx: number
  readonly widthPx: number
  /** Of its label from its own left edge; null where the label is shown on pointing only. */
  readonly labelPx: number | null
}

/** @returns Moves the elements to their places; only what changed is written. */
function placer(
  list: HTMLElement,
  marks: readonly DrawnMark[],
  mapPx: number,
): (placed: readonly PlacedMark<DrawnMark>[]) => void {
  const shown = new Map<Element, Place | null>()
  return (placed) => {
    const places = new Map(placed.map((one) => [one.mark.id, placeOf(one, mapPx)]))
    marks.forEach(({ id }, at) => {
      const element = list.children[at]
      if (!(element instanceof HTMLElement)) return
      const [before, after] = [shown.get(element), places.get(id) ?? null]
      if (before === undefined || !isSame(before, after)) show(element, after)
      shown.set(element, after)
    })
  }
}

/** In whole pixels; what reaches far beyond the map is cut off there. */
function placeOf({ leftPx, widthPx, lane, labelPx }: PlacedMark<DrawnMark>, mapPx: number): Place {
  const left = Math.round(Math.max(leftPx, -mapPx))
  return {
    leftPx: left,
    topPx: lane * LANE_PX,
    widthPx: Math.max(1, Math.round(Math.min(leftPx + widthPx, 2 * mapPx)) - left),
    labelPx: labelPx === null ? null : Math.round(labelPx) - left,
  }
}

function isSame(a: Place | null, b: Place | null): boolean {
  if (a === null || b === null) return a === b
  return a.leftPx === b.leftPx && a.topPx === b.topPx && a.widthPx === b.widthPx && a.labelPx === b.labelPx
}

function show(element: HTMLElement, place: Place | null): void {
  element.hidden = place === null
  if (place === null) return
  const part = (name: string): HTMLElement | null => element.querySelector(`[data-part="${name}"]`)
  const [mark, bar, label] = [part('mark'), part('bar'), part('label')]
  if (!mark || !bar || !label) return
  element.style.transform = `translate(${place.leftPx}px, ${place.topPx}px)`
  mark.style.width = `${place.widthPx}px`
  bar.style.width = `${place.widthPx}px`
  label.style.transform = place.labelPx === null ? '' : `translateX(${place.labelPx}px)`
  mark.toggleAttribute('data-bare', place.labelPx === null)
  // Who points at it and sees no label is told.
  if (place.labelPx === null) mark.title = label.textContent ?? ''
  else mark.removeAttribute('title')
}
