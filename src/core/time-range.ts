/** A stretch of time, s. `endS` is not before `startS`. */
export interface TimeRange {
  readonly startS: number
  readonly endS: number
}

/** A stretch that is shorter than this is taken for rounding of time stamps or padding of a codec, s. */
export const LENGTH_TOLERANCE_S = 0.5

/** Ranges in order, those that touch or lie within a gap of each other joined. @param gapS Largest gap that is closed, s. */
export function joinedRanges(ranges: readonly TimeRange[], gapS = 0): TimeRange[] {
  const joined: { startS: number; endS: number }[] = []
  for (const { startS, endS } of [...ranges].sort((a, b) => a.startS - b.startS)) {
    const last = joined[joined.length - 1]
    if (last && startS <= last.endS + gapS) last.endS = Math.max(last.endS, endS)
    else joined.push({ startS, endS })
  }
  return joined
}

/**
 * What of a track was not decoded, though it should be there: gaps between its packets and what lacks at its end.
 *
 * @param decoded Ranges that were decoded. @param statedS Length that the container states; null when it states none.
 * @param startS Where the track begins: nothing is missed before it.
 */
export function missingRanges(
  decoded: readonly TimeRange[],
  { statedS, startS = 0 }: { readonly statedS: number | null; readonly startS?: number },
): TimeRange[] {
  const missing: TimeRange[] = []
  let at = startS
  for (const range of joinedRanges(decoded)) {
    if (range.startS - at > LENGTH_TOLERANCE_S) missing.push({ startS: at, endS: range.startS })
    at = Math.max(at, range.endS)
  }
  if (statedS !== null && statedS - at > LENGTH_TOLERANCE_S) missing.push({ startS: at, endS: statedS })
  return missing
}

/** Seconds that some ranges cover together. */
export function coveredS(ranges: readonly TimeRange[]): number {
  return joinedRanges(ranges).reduce((sum, { startS, endS }) => sum + endS - startS, 0)
}

/** Whether two stretches overlap. */
export function overlaps(one: TimeRange, other: TimeRange): boolean {
  return one.startS < other.endS && other.startS < one.endS
}

/** Fraction of a range that others cover, 0 to 1. A range without length is covered where another one holds that instant. */
export function coveredFraction({ startS, endS }: TimeRange, by: readonly TimeRange[]): number {
  const within = by
    .map((other) => ({ startS: Math.max(startS, other.startS), endS: Math.min(endS, other.endS) }))
    .filter((part) => part.endS > part.startS)
  if (endS > startS) return coveredS(within) / (endS - startS)
  return by.some((other) => other.startS <= startS && startS <= other.endS) ? 1 : 0
}

/** What is left of some ranges when others are taken out of them. */
export function rangesWithout(ranges: readonly TimeRange[], out: readonly TimeRange[]): TimeRange[] {
  const cuts = joinedRanges(out)
  return ranges.flatMap((range) => {
    const left: TimeRange[] = []
    let at = range.startS
    for (const cut of cuts) {
      if (cut.endS <= at || cut.startS >= range.endS) continue
      if (cut.startS > at) left.push({ startS: at, endS: cut.startS })
      at = Math.max(at, cut.endS)
    }
    if (at < range.endS) left.push({ startS: at, endS: range.endS })
    return left
  })
}
