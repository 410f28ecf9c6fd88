import { bisectRight } from 'd3'
import { messages } from '../../messages'
import type { PeakSource } from './peaks'
import type { StripSource } from './strip'
import { type Scale, scaleOf, type Tick, type TimeView } from './view'
import { drawColumns } from './wave-picture'

/** Colours of the map, as the theme has them. */
export interface MapInk {
  readonly wave: string
  readonly line: string
  readonly quiet: string
  readonly loudness: string
  readonly ink: string
  readonly error: string
  readonly warning: string
  readonly success: string
  readonly primary: string
  readonly speech: string
  readonly music: string
  readonly noise: string
}

export interface MapSegment {
  readonly kind: 'speech' | 'music' | 'noise' | 'silence'
  readonly startS: number
  readonly endS: number
}

/** All that is drawn densely. */
export interface MapContent {
  readonly ticks: readonly Tick[]
  readonly strip: StripSource | null
  /** Width over height of the picture. */
  readonly aspect: number
  readonly peaks: PeakSource | null
  /** Ten values a second, LUFS; below -99 for silence. */
  readonly momentaryLufs: ArrayLike<number>
  readonly integratedLufs: number | null
  readonly segments: readonly MapSegment[]
  readonly unexplained: readonly { readonly startS: number; readonly endS: number }[]
  readonly missing: readonly { readonly startS: number; readonly endS: number }[]
  readonly shotChangesS: readonly number[]
}

/** Heights of the rows, px. A row without content has none. */
export interface MapRows {
  readonly rulerPx: number
  readonly stripPx: number
  readonly wavePx: number
  readonly loudnessPx: number
  readonly kindsPx: number
}

export const RULER_PX = 20

export function rowsOf(
  content: Pick<MapContent, 'strip' | 'peaks' | 'momentaryLufs' | 'segments'>,
  wavePx: number,
): MapRows {
  return {
    rulerPx: RULER_PX,
    stripPx: content.strip ? 42 : 0,
    wavePx: content.peaks ? wavePx : 0,
    loudnessPx: content.momentaryLufs.length > 0 ? 30 : 0,
    kindsPx: content.segments.length > 0 ? 24 : 0,
  }
}

export function heightOf({ rulerPx, stripPx, wavePx, loudnessPx, kindsPx }: MapRows): number {
  return rulerPx + stripPx + wavePx + loudnessPx + kindsPx
}

const LOUDNESS_TOP_LUFS = -6
const LOUDNESS_LOW_LUFS = -50
const FONT = '12px "Commissioner Variable", system-ui, sans-serif'
/** How thick the line of each kind is: what is louder in the ear weighs more in the eye. */
const KIND_THICKNESS_PX = { speech: 9, music: 6, noise: 3, silence: 1 } as const

/** Draws everything but what is touched, on an empty canvas. */
export function drawMap(
  context: CanvasRenderingContext2D,
  view: TimeView,
  widthPx: number,
  rows: MapRows,
  content: MapContent,
  ink: MapInk,
): void {
  const scale = scaleOf(view, widthPx)
  context.font = FONT
  context.textBaseline = 'alphabetic'
  let y = 0
  drawRuler(context, scale, content.ticks, heightOf(rows), ink)
  y += rows.rulerPx
  if (rows.stripPx > 0) drawStrip(context, view, scale, content, y, rows.stripPx, ink)
  y += rows.stripPx
  if (rows.wavePx > 0) drawWave(context, view, scale, content, y, rows.wavePx, ink)
  drawMissing(context, scale, content.missing, y, rows.wavePx, ink)
  y += rows.wavePx
  if (rows.loudnessPx > 0) drawLoudness(context, view, scale, content, y, rows.loudnessPx, ink)
  y += rows.loudnessPx
  if (rows.kindsPx > 0) drawKinds(context, scale, content, y, ink)
}

function drawRuler(
  context: CanvasRenderingContext2D,
  { x }: Scale,
  ticks: readonly Tick[],
  heightPx: number,
  ink: MapInk,
): void {
  for (const { timeS, label } of ticks) {
    const at = Math.round(x(timeS)) + 0.5
    context.strokeStyle = ink.line
    context.beginPath()
    context.moveTo(at, 0)
    context.lineTo(at, heightPx)
    context.stroke()
    context.fillStyle = ink.quiet
    context.fillText(label, at + 4, 13)
  }
}

/** Small pictures side by side, each the one that is shown where it begins. */
function drawStrip(
  context: CanvasRenderingContext2D,
  view: TimeView,
  { x, timeAt, widthPx }: Scale,
  { strip, aspect, shotChangesS }: MapContent,
  y: number,
  heightPx: number,
  ink: MapInk,
): void {
  const inner = heightPx - 4
  const each = Math.max(12, Math.round(inner * aspect))
  // They keep their places while the map is panned.
  const firstPx = -(((x(0) % each) + each) % each === 0 ? 0 : each - (((x(0) % each) + each) % each))
  for (let left = firstPx; left < widthPx; left += each) {
    const timeS = Math.max(0, timeAt(left))
    if (timeS > view.endS) break
    const image = strip?.image(Math.max(0, bisectRight(strip.timesS, timeS + 1e-6) - 1))
    if (image) context.drawImage(image, left, y, each - 1, inner)
    else {
      context.fillStyle = ink.line
      context.fillRect(left, y, each - 1, inner)
    }
  }
  context.fillStyle = ink.primary
  for (const cutS of shotChangesS) {
    if (cutS < view.startS || cutS > view.endS) continue
    context.fillRect(Math.round(x(cutS)) - 0.5, y, 1.5, inner)
  }
}

function drawWave(
  context: CanvasRenderingContext2D,
  view: TimeView,
  scale: Scale,
  { peaks }: MapContent,
  y: number,
  heightPx: number,
  ink: MapInk,
): void {
  const middle = y + heightPx / 2
  const half = heightPx / 2 - 2
  context.fillStyle = ink.wave
  context.strokeStyle = ink.wave
  const samples = peaks?.samples(view.startS, view.endS, scale.widthPx)
  if (samples) {
    drawSamples(context, view, scale, samples, middle, half)
    return
  }
  const columns = peaks?.columns(view.startS, view.endS, scale.widthPx)
  if (!columns) {
    context.fillRect(0, middle - 0.5, scale.widthPx, 1)
    return
  }
  drawColumns(context, columns, { widthPx: scale.widthPx, y, heightPx, halfPx: half, colour: ink.wave })
}

/** Single samples with a line through them; as dots where they are far enough apart. */
function drawSamples(
  context: CanvasRenderingContext2D,
  view: TimeView,
  { x, pxPerS }: Scale,
  { values, firstS, rateHz, scale }: { values: Float32Array; firstS: number; rateHz: number; scale: number },
  middle: number,
  half: number,
): void {
  const from = Math.max(0, Math.floor((view.startS - firstS) * rateHz) - 1)
  const to = Math.min(values.length, Math.ceil((view.endS - firstS) * rateHz) + 2)
  context.beginPath()
  for (let i = from; i < to; i++) {
    const [px, py] = [x(firstS + i / rateHz), middle - half * scale * (values[i] as number)]
    if (i === from) context.moveTo(px, py)
    else context.lineTo(px, py)
  }
  context.stroke()
  if (pxPerS / rateHz < 5) return
  for (let i = from; i < to; i++)
    context.fillRect(x(firstS + i / rateHz) - 2, middle - half * scale * (values[i] as number) - 2, 4, 4)
}

/** Stretches that could not be decoded: hatched, with the word where there is room. */
function drawMissing(
  context: CanvasRenderingContext2D,
  { x }: Scale,
  missing: MapContent['missing'],
  y: number,
  heightPx: number,
  ink: MapInk,
): void {
  for (const { startS, endS } of missing) {
    const left = x(startS)
    const width = Math.max(3, x(endS) - left)
    context.save()
    context.beginPath()
    context.rect(left, y, width, heightPx)
    context.clip()
    context.strokeStyle = ink.error
    context.globalAlpha = 0.6
    context.lineWidth = 3
    for (let at = left - heightPx; at < left + width; at += 9) {
      context.beginPath()
      context.moveTo(at, y + heightPx)
      context.lineTo(at + heightPx, y)
      context.stroke()
    }
    context.restore()
    if (width < 90) continue
    context.fillStyle = ink.error
    context.fillText(messages.sound.notDecoded, Math.max(4, left + 4), y + 14)
  }
}

function drawLoudness(
  context: CanvasRenderingContext2D,
  view: TimeView,
  { x, widthPx, pxPerS }: Scale,
  { momentaryLufs, integratedLufs }: MapContent,
  y: number,
  heightPx: number,
  ink: MapInk,
): void {
  const yOf = (lufs: number): number => {
    const share = (LOUDNESS_TOP_LUFS - lufs) / (LOUDNESS_TOP_LUFS - LOUDNESS_LOW_LUFS)
    return y + 3 + Math.max(0, Math.min(1, share)) * (heightPx - 6)
  }
  if (integratedLufs !== null) {
    context.strokeStyle = ink.quiet
    context.setLineDash([2, 4])
    context.beginPath()
    context.moveTo(0, yOf(integratedLufs))
    context.lineTo(widthPx, yOf(integratedLufs))
    context.stroke()
    context.setLineDash([])
  }
  context.strokeStyle = ink.loudness
  context.lineWidth = 1.5
  context.beginPath()
  // Of more values than pixels the loudest of each pixel is drawn.
  const stride = Math.max(1, Math.floor(10 / pxPerS))
  const from = Math.max(0, Math.floor(view.startS * 10) - stride)
  const to = Math.min(momentaryLufs.length, Math.ceil(view.endS * 10) + stride)
  for (let step = from - (from % stride); step < to; step += stride) {
    let most = -120
    for (let k = step; k < Math.min(momentaryLufs.length, step + stride); k++)
      most = Math.max(most, momentaryLufs[k] as number)
    const [px, py] = [x(0.2 + step / 10), yOf(most)]
    if (step <= from) context.moveTo(px, py)
    else context.lineTo(px, py)
  }
  context.stroke()
  context.lineWidth = 1
}

/** Speech, music, noise and silence along the track, and what stands out of them unexplained. */
function drawKinds(
  context: CanvasRenderingContext2D,
  { x, widthPx }: Scale,
  { segments, unexplained }: MapContent,
  y: number,
  ink: MapInk,
): void {
  for (const { kind, startS, endS } of segments) {
    const left = Math.max(0, x(startS))
    const right = Math.min(widthPx, x(endS))
    if (right <= left) continue
    const thick = KIND_THICKNESS_PX[kind]
    context.fillStyle = kind === 'speech' ? ink.speech : kind === 'music' ? ink.music : ink.noise
    context.fillRect(left, y + 6 - thick / 2, Math.max(0.5, right - left - 1), thick)
    if (right - left < 46) continue
    context.fillStyle = ink.quiet
    context.fillText(kind, left + 2, y + 21)
  }
  context.strokeStyle = ink.primary
  context.lineWidth = 1.5
  for (const { startS, endS } of unexplained) context.strokeRect(x(startS), y - 1, Math.max(2, x(endS) - x(startS)), 15)
  context.lineWidth = 1
}
