import type { BreakPoint } from './score'

/** The value of a line through break points: straight between two, level before the first and after the last; 0 without any. */
export function lineValue(points: readonly BreakPoint[], atS: number): number {
  const next = points.findIndex((point) => point.atS > atS)
  const before = next < 0 ? points[points.length - 1] : points[next - 1]
  const after = next < 0 ? undefined : points[next]
  if (!before) return after?.value ?? 0
  if (!after) return before.value
  return before.value + ((after.value - before.value) * (atS - before.atS)) / (after.atS - before.atS)
}
