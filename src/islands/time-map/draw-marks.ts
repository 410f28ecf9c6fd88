import type { MapInk } from './draw'
import type { MapMark, PlacedMark } from './lanes'

/** How the bar of a mark is filled, as the styles fill it. */
export type BarPattern = 'solid' | 'rising' | 'striped' | 'dotted' | 'lined' | 'dashed' | 'half' | 'slanted'

/** A mark as it is drawn while the map moves. */
export interface MarkLook {
  readonly pattern: BarPattern
  readonly ink: keyof MapInk
  /** Before the label, where there is one. */
  readonly symbol?: 'disc' | 'half' | 'hollow' | 'barred'
}

export interface DrawnMark extends MapMark {
  readonly look: MarkLook
}

export const LANE_PX = 30
const BAR_PX = 8
const BASELINE_PX = 22
const SYMBOL_PX = 10
const FONT = '13px "Commissioner Variable", system-ui, sans-serif'

/** Draws marks with the labels that have room, as they look when the map stands still. */
export function drawMarks(
  context: CanvasRenderingContext2D,
  placed: readonly PlacedMark<DrawnMark>[],
  { widthPx, chosenIds, ink }: { widthPx: number; chosenIds: ReadonlySet<string>; ink: MapInk },
): void {
  context.textBaseline = 'alphabetic'
  // Setting a font costs more than writing with it.
  let font = ''
  for (const { mark, lane, leftPx, widthPx: wide, labelPx } of placed) {
    // What lies outside is not drawn: patterns would fill it for nothing.
    const left = Math.round(Math.max(leftPx, -BAR_PX))
    const bar = { left, top: lane * LANE_PX, wide: Math.round(Math.min(leftPx + wide, widthPx + BAR_PX)) - left }
    const isChosen = chosenIds.has(mark.id)
    drawBar(context, bar, mark.look.pattern, ink[mark.look.ink])
    if (isChosen) {
      context.strokeStyle = ink.primary
      context.lineWidth = 2
      context.strokeRect(bar.left - 2, bar.top - 2, bar.wide + 4, BAR_PX + 4)
    }
    if (labelPx === null) continue
    let at = Math.round(labelPx)
    if (mark.look.symbol) {
      drawSymbol(context, at, bar.top + BASELINE_PX - SYMBOL_PX, mark.look.symbol, ink[mark.look.ink])
      at += SYMBOL_PX + 4
    }
    const wanted = isChosen ? `600 ${FONT}` : FONT
    if (font !== wanted) context.font = font = wanted
    context.fillStyle = ink.ink
    context.fillText(mark.label, at, bar.top + BASELINE_PX)
  }
}

interface Bar {
  readonly left: number
  readonly top: number
  readonly wide: number
}

function drawBar(
  context: CanvasRenderingContext2D,
  { left, top, wide }: Bar,
  pattern: BarPattern,
  colour: string,
): void {
  context.fillStyle = colour
  context.strokeStyle = colour
  context.lineWidth = 1.5
  switch (pattern) {
    case 'solid':
      context.fillRect(left, top, wide, BAR_PX)
      return
    case 'rising':
      context.beginPath()
      context.moveTo(left, top + BAR_PX)
      context.lineTo(left + wide, top)
      context.lineTo(left + wide, top + BAR_PX)
      context.fill()
      return
    case 'striped':
      for (let x = 0; x < wide; x += 5) context.fillRect(left + x, top, Math.min(3, wide - x), BAR_PX)
      return
    case 'dotted':
      for (let x = 2; x < wide; x += 5) for (let y = 2; y < BAR_PX; y += 4) context.fillRect(left + x, top + y, 2, 2)
      return
    case 'lined':
      for (let y = 0; y < BAR_PX; y += 4) context.fillRect(left, top + y, wide, 1.5)
      return
    case 'dashed':
      context.setLineDash([3, 3])
      context.strokeRect(left + 0.75, top + 0.75, Math.max(1, wide - 1.5), BAR_PX - 1.5)
      context.setLineDash([])
      return
    case 'half':
      context.strokeRect(left + 0.75, top + 0.75, Math.max(1, wide - 1.5), BAR_PX - 1.5)
      context.fillRect(left, top + BAR_PX / 2, wide, BAR_PX / 2)
      return
    case 'slanted':
      context.globalAlpha = 0.45
      context.fillRect(left, top, wide, BAR_PX)
      context.globalAlpha = 1
      for (let x = 0; x < wide; x += 10) context.fillRect(left + x, top, Math.min(6, wide - x), BAR_PX)
      return
  }
}

/** @param x,y Corner of its box, px. */
function drawSymbol(
  context: CanvasRenderingContext2D,
  x: number,
  y: number,
  symbol: NonNullable<MarkLook['symbol']>,
  colour: string,
): void {
  const half = SYMBOL_PX / 2
  context.fillStyle = colour
  context.strokeStyle = colour
  context.lineWidth = 1.3
  context.beginPath()
  if (symbol === 'barred') context.rect(x + 1, y + 1, SYMBOL_PX - 2, SYMBOL_PX - 2)
  else if (symbol === 'hollow') {
    context.moveTo(x + half, y + 1)
    context.lineTo(x + SYMBOL_PX - 1, y + half)
    context.lineTo(x + half, y + SYMBOL_PX - 1)
    context.lineTo(x + 1, y + half)
    context.closePath()
  } else context.arc(x + half, y + half, half - 1, 0, 2 * Math.PI)
  if (symbol === 'disc' || symbol === 'barred') context.fill()
  else context.stroke()
  if (symbol !== 'half') return
  context.beginPath()
  context.arc(x + half, y + half, half - 1, Math.PI / 2, (3 * Math.PI) / 2)
  context.fill()
}
