import { area, curveLinear } from 'd3'
import type { PrintWire } from '../../../contract'

const BANDS = 4

/** Four closed shapes of a print, low band first, as SVG path data in a box of the given size. */
export function printPaths(
  print: PrintWire,
  box: { readonly heightPx: number; readonly pxPerS: number; readonly maxWidthPx?: number },
): string[] {
  const letters = atob(print.levelsBase64)
  const levels = Uint8Array.from({ length: letters.length }, (_, at) => letters.charCodeAt(at))
  const stepPx = print.columnS * box.pxPerS
  // Columns that would not be seen are not worked out.
  const seen = Math.ceil((box.maxWidthPx ?? Number.POSITIVE_INFINITY) / stepPx) + 1
  const visible = Array.from({ length: Math.min(seen, levels.length / BANDS) }, (_, column) =>
    ribbonColumn(levels, column, box.heightPx),
  )
  return Array.from({ length: BANDS }, (_, band) => {
    const shape = area<readonly number[]>()
      .x((_column, index) => rounded((index + 0.5) * stepPx))
      .y0((column) => rounded(column[band] as number))
      .y1((column) => rounded(column[band + 1] as number))
      .curve(curveLinear)
    return shape(visible) ?? ''
  })
}

/** The five edges of a column's four layers, from the lowest upward, centred in the height. */
export function ribbonColumn(levels: Uint8Array, column: number, heightPx: number): number[] {
  const parts = Array.from({ length: BANDS }, (_, band) => ((levels[column * BANDS + band] as number) / 255) ** 1.3)
  const scale = (heightPx / BANDS) * 0.98
  const total = parts.reduce((sum, part) => sum + part, 0) * scale
  let edge = heightPx / 2 + total / 2
  return [edge, ...parts.map((part) => (edge -= part * scale))]
}

function rounded(value: number): number {
  return Math.round(value * 10) / 10
}
