import { type FrameRate, frameAt, frameStartS, framesPerS, nominalRate, timecodeOf } from '../../core/formats/timecode'
import { messages } from '../../messages'

/** The stretch of time that a map shows, s. `endS` is after `startS`. */
export interface TimeView {
  readonly startS: number
  readonly endS: number
}

/** So few samples are the most that a map is zoomed to: single ones are seen. */
export const MIN_SPAN_S = 64 / 48_000

export function wholeView(durationS: number): TimeView {
  return { startS: 0, endS: Math.max(MIN_SPAN_S, durationS) }
}

/** A view of some length that lies within the whole. */
function within(startS: number, spanS: number, durationS: number): TimeView {
  const span = Math.max(MIN_SPAN_S, Math.min(spanS, Math.max(MIN_SPAN_S, durationS)))
  const start = Math.max(0, Math.min(startS, durationS - span))
  return { startS: start, endS: start + span }
}

/** Zooms so that the time under the pointer stays under it. @param factor Below 1 for closer. */
export function zoomedAt(view: TimeView, factor: number, aroundS: number, durationS: number): TimeView {
  const spanS = view.endS - view.startS
  const next = Math.max(MIN_SPAN_S, Math.min(spanS * factor, Math.max(MIN_SPAN_S, durationS)))
  return within(aroundS - ((aroundS - view.startS) * next) / spanS, next, durationS)
}

export function pannedBy(view: TimeView, byS: number, durationS: number): TimeView {
  return within(view.startS + byS, view.endS - view.startS, durationS)
}

/** The view moved so far that a time is in it; the same object where it is already. @param edge Share of it that is kept free. */
export function viewWith(view: TimeView, timeS: number, durationS: number, edge = 0.02): TimeView {
  const spanS = view.endS - view.startS
  if (timeS >= view.startS + edge * spanS && timeS <= view.endS - edge * spanS) return view
  const next = within(timeS - 0.1 * spanS, spanS, durationS)
  return next.startS === view.startS ? view : next
}

/** Maps times to pixels and back. */
export interface Scale {
  readonly widthPx: number
  readonly pxPerS: number
  x(timeS: number): number
  timeAt(px: number): number
}

export function scaleOf({ startS, endS }: TimeView, widthPx: number): Scale {
  const pxPerS = widthPx / (endS - startS)
  return {
    widthPx,
    pxPerS,
    x: (timeS) => (timeS - startS) * pxPerS,
    timeAt: (px) => startS + px / pxPerS,
  }
}

export interface Tick {
  readonly timeS: number
  readonly label: string
}

/** Steps of a ruler in seconds; below a second it goes by frames. */
const STEPS_S = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200]
const FRAME_STEPS = [1, 2, 5, 10]
const LABEL_PX = 92

/** Ticks of the ruler with timecode, so far apart that their labels have room. */
export function ticksOf(view: TimeView, widthPx: number, { rate, drop }: { rate: FrameRate; drop: boolean }): Tick[] {
  const { pxPerS } = scaleOf(view, widthPx)
  const frames = FRAME_STEPS.filter((step) => step < nominalRate(rate)).find(
    (step) => (step / framesPerS(rate)) * pxPerS >= LABEL_PX,
  )
  const byFrames = frames !== undefined
  const stepFrames = byFrames
    ? frames
    : nominalRate(rate) *
      (STEPS_S.find((stepS) => stepS * pxPerS >= LABEL_PX) ?? (STEPS_S[STEPS_S.length - 1] as number))
  const ticks: Tick[] = []
  const first = Math.ceil(frameAt(view.startS, rate) / stepFrames) * stepFrames
  for (let frame = first; frameStartS(frame, rate) <= view.endS; frame += stepFrames) {
    const code = timecodeOf(frame, rate, drop)
    // Hours are left out where there are none, frames where the ruler does not go by them.
    const short = code.startsWith('00:') ? code.slice(3) : code
    ticks.push({ timeS: frameStartS(frame, rate), label: byFrames ? short : short.slice(0, -3) })
  }
  // So close that no frame begins in view: where it begins is told with its place in its frame.
  if (ticks.length === 0) {
    const frame = frameAt(view.startS, rate)
    const ms = Math.max(0, 1000 * (view.startS - frameStartS(frame, rate)))
    ticks.push({ timeS: view.startS, label: messages.sound.ms(timecodeOf(frame, rate, drop), ms.toFixed(2)) })
  }
  return ticks
}

/** The nearest of some times within reach, else the time itself. @param reachS How near, s. */
export function snapped(timeS: number, snapsS: readonly number[], reachS: number): number {
  let best = timeS
  let distance = reachS
  for (const snap of snapsS) {
    if (Math.abs(snap - timeS) < distance) [best, distance] = [snap, Math.abs(snap - timeS)]
  }
  return best
}
