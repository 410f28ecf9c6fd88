import { score as messages } from '../wording/score'
import { lineValue } from './lines'
import { type BreakPoint, SCORE_LIMITS } from './score'
import { ScoreError } from './score-error'

/** Two points nearer than this are one, s. */
const SAME_S = 0.001

/** A line on which points are set: what its values may be, and how long it is. */
export interface LineBounds {
  readonly least: number
  readonly most: number
  /** Length of the placement, s. */
  readonly lengthS: number
}

/**
 * A point more on a line. Where one stands already it takes the new value.
 *
 * @param point Its value is left out to put it on the line as it runs: nothing is heard of that. @throws {ScoreError} bad-time, outside of the
 * placement; too-many.
 */
export function withBreakPoint(
  points: readonly BreakPoint[],
  { atS, value = lineValue(points, atS) }: { readonly atS: number; readonly value?: number },
  bounds: LineBounds,
): BreakPoint[] {
  if (!(atS >= 0 && atS <= bounds.lengthS)) throw new ScoreError('bad-time', messages.playheadNotWithinThisSoundMove)
  const others = points.filter((point) => Math.abs(point.atS - atS) >= SAME_S)
  if (others.length >= SCORE_LIMITS.breakPoints)
    throw new ScoreError('too-many', messages.lineHasAtMostBreak(SCORE_LIMITS.breakPoints))
  return [...others, { atS, value: within(value, bounds.least, bounds.most) }].sort((a, b) => a.atS - b.atS)
}

/** A point of a line moved, between its neighbours and within the bounds. */
export function withMovedBreakPoint(
  points: readonly BreakPoint[],
  index: number,
  { atS, value }: BreakPoint,
  bounds: LineBounds,
): BreakPoint[] {
  const leastS = (points[index - 1]?.atS ?? -SAME_S) + SAME_S
  const mostS = (points[index + 1]?.atS ?? bounds.lengthS + SAME_S) - SAME_S
  return points.map((point, at) =>
    at === index
      ? { atS: within(atS, leastS, Math.max(leastS, mostS)), value: within(value, bounds.least, bounds.most) }
      : point,
  )
}

export function withoutBreakPoint(points: readonly BreakPoint[], index: number): BreakPoint[] {
  return points.filter((_, at) => at !== index)
}

function within(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value))
}
