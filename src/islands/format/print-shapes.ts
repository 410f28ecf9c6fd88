import { area, curveLinear } from 'd3'
import type { PrintWire } from '../../contract'

/** Bands in each column of a print. */
export const BANDS = 4

/** Levels of a print, 0 to 255: the bands of a column, then those of the next. */
export function printLevels({ levelsBase64 }: PrintWire): Uint8Array {
  return Uint8Array.from(atob(levelsBase64), (letter) => letter.charCodeAt(0))
}

/** Four closed shapes of a print, low band first, as SVG path data in a box of the given size. */
export function printPaths(
  print: PrintWire,
  box: { readonly heightPx: number; readonly pxPerS: number; readonly maxWidthPx?: number },
): string[] {
  const levels = printLevels(print)
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
