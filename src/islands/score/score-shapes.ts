import type { PrintWire } from '../../contract'
import { type Dip, fadesGain, runsOf } from '../../core/mix'
import { type Layer, lineValue, type Placement, placementLengthS, sourceLengthS } from '../../core/score'
import { printPaths } from '../format/print-shapes'
import type { Scale } from '../time-map/view'

/** Height of the row of a layer, px. */
export const LAYER_PX = 48
/** Height of a row that is folded, px. */
export const FOLDED_PX = 24

/** Where a layer is drawn, px from the top of the first. */
export interface LayerRowPlace {
  readonly topPx: number
  readonly heightPx: number
}

/** The rows of all layers, by their ids, one below the other. */
export function layerRows(layers: readonly Layer[]): ReadonlyMap<string, LayerRowPlace> {
  const rows = new Map<string, LayerRowPlace>()
  let topPx = 0
  for (const { id, isFolded } of layers) {
    const heightPx = isFolded ? FOLDED_PX : LAYER_PX
    rows.set(id, { topPx, heightPx })
    topPx += heightPx
  }
  return rows
}

/** The layer at a height, or null below all of them. */
export function layerAt(layers: readonly Layer[], y: number): Layer | null {
  const rows = layerRows(layers)
  return layers.find(({ id }) => y < (rows.get(id)?.topPx ?? 0) + (rows.get(id)?.heightPx ?? 0)) ?? null
}

/** Px a second in which prints are made once; they are drawn out to the scale of the map. */
export const SHAPE_PX_PER_S = 60
export const SHAPE_HEIGHT_PX = 40
/** Levels that the height of a print shows, dB. */
const SOFTEST_DB = -30
const LOUDEST_DB = 6
const LEAST_HEIGHT = 0.25
/** Points of the line of a fade. */
const FADE_POINTS = 10

/** How high a print is drawn, of its row: as high as it is loud. */
export function levelHeight(gainDb: number): number {
  const share = (gainDb - SOFTEST_DB) / (LOUDEST_DB - SOFTEST_DB)
  return LEAST_HEIGHT + (1 - LEAST_HEIGHT) * Math.min(1, Math.max(0, share))
}

const shapes = new WeakMap<PrintWire, string[]>()

/** The shapes of a print, made once. */
export function shapesOf(print: PrintWire): string[] {
  const known = shapes.get(print)
  if (known) return known
  const made = printPaths(print, { heightPx: SHAPE_HEIGHT_PX, pxPerS: SHAPE_PX_PER_S })
  shapes.set(print, made)
  return made
}

/** More runs than these are not drawn apart. */
const RUNS_MAX = 120

/** A part of a print that is drawn once, across a box of 100. */
export interface PrintRun {
  readonly key: number
  readonly x: number
  readonly width: number
  readonly fromS: number
  readonly toS: number
}

/** What of its print a placement shows: each part of the sound as often as it is heard, where it is heard. */
export function printRuns(placement: Placement): PrintRun[] {
  const runs = runsOf(placement)
  const lengthS = sourceLengthS(placement)
  const drawn =
    runs.length > RUNS_MAX
      ? [{ fromS: placement.fromS, toS: placement.toS, atS: 0, widthS: lengthS }]
      : runs.map((run) => ({ ...run, widthS: run.toS - run.fromS }))
  return drawn.map(({ fromS, toS, atS, widthS }, key) => ({
    key,
    x: (100 * atS) / lengthS,
    width: (100 * widthS) / lengthS,
    fromS,
    toS,
  }))
}

/** The line of the level of a placement with its fades and break points, in a box of 100 by 100; null where it is level. */
export function levelLine(placement: Placement): string | null {
  const { fadeIn, fadeOut, gainPoints } = placement
  if (!fadeIn && !fadeOut && gainPoints.length === 0) return null
  const lengthS = placementLengthS(placement)
  const inFade = (fade: Placement['fadeIn'], at: (insideS: number) => number): number[] =>
    fade ? Array.from({ length: FADE_POINTS + 1 }, (_, step) => at((fade.lengthS * step) / FADE_POINTS)) : []
  const timesS = [
    0,
    ...inFade(fadeIn, (insideS) => insideS),
    ...gainPoints.map(({ atS }) => atS),
    ...inFade(fadeOut, (insideS) => lengthS - insideS),
    lengthS,
  ].filter((atS) => atS <= lengthS)
  const points = timesS
    .sort((a, b) => a - b)
    .map((atS) => `${((100 * atS) / lengthS).toFixed(2)} ${levelY(placement, atS).toFixed(1)}`)
  return `M${points.join('L')}`
}

/** Where the line of the level of a placement is at a time from its start, in a box of 100. */
export function levelY(placement: Placement, atS: number): number {
  const { gainPoints } = placement
  const most = Math.max(1, ...gainPoints.map(({ value }) => 10 ** (value / 20)))
  const gain = fadesGain(placement, placementLengthS(placement), atS) * 10 ** (lineValue(gainPoints, atS) / 20)
  return 96 - (88 * Math.min(most, gain)) / most
}

/** So far down is the whole height of a row, dB. */
const DEEPEST_DB = 30

/** How a layer goes down under speech, as a line in its row: at the top where it is at its level. Only what is in view is drawn. */
export function duckLine(dips: readonly Dip[], { x, widthPx }: Pick<Scale, 'x' | 'widthPx'>, heightPx: number): string {
  const y = (db: number): number => 2 + (heightPx - 4) * Math.min(1, db / DEEPEST_DB)
  const points = dips
    .filter(({ downFromS, upAtS }) => x(upAtS) > 0 && x(downFromS) < widthPx)
    .flatMap(({ downFromS, downAtS, upFromS, upAtS, depthDb }) => [
      [x(downFromS), y(0)],
      [x(downAtS), y(depthDb)],
      [x(upFromS), y(depthDb)],
      [x(upAtS), y(0)],
    ])
  return `M${[[0, y(0)], ...points, [widthPx, y(0)]].map(([px, py]) => `${px?.toFixed(1)} ${py?.toFixed(1)}`).join('L')}`
}

/**
 * The stem that runs from the picture strip down to the hit of a placement: straight where it meets what it is lined up with, bent where not yet.
 *
 * @param fromX Where what it should meet is, px. @param toX Where its hit is, px.
 */
export function stemPath({
  fromX,
  toX,
  topPx,
  bottomPx,
}: {
  readonly fromX: number
  readonly toX: number
  readonly topPx: number
  readonly bottomPx: number
}): string {
  const bendPx = bottomPx - 26
  return Math.abs(fromX - toX) < 0.5
    ? `M${toX} ${topPx}V${bottomPx}`
    : `M${fromX} ${topPx}V${bendPx}L${toX} ${bendPx + 14}V${bottomPx}`
}

/** Which of how many stems a placement is, from the top of its row. */
export interface BedBand {
  readonly at: number
  readonly count: number
}

/** The place of each stem of a bed in the height of its row, by id; what stands alone has all of it. */
export function bedBands(placements: readonly Placement[]): ReadonlyMap<string, BedBand> {
  const beds = new Map<string, string[]>()
  for (const { id, bed } of placements) if (bed?.kind === 'stems') beds.set(bed.id, [...(beds.get(bed.id) ?? []), id])
  return new Map([...beds.values()].flatMap((ids) => ids.map((id, at) => [id, { at, count: ids.length }] as const)))
}
