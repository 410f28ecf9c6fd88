import type { Placement } from '../score'

/** A part of the source that is played once. Times in seconds of the source. */
export interface SourceRun {
  readonly fromS: number
  readonly toS: number
  /** Where it begins in what is heard, before the rate. */
  readonly atS: number
  /** Equal-power overlaps with what comes before and after. */
  readonly seamInS: number
  readonly seamOutS: number
}

/** What a placement plays of its source, in order; each overlaps the next by its seam. */
export function runsOf({ assembly, fromS, toS }: Pick<Placement, 'assembly' | 'fromS' | 'toS'>): SourceRun[] {
  if (!assembly) return [{ fromS, toS, atS: 0, seamInS: 0, seamOutS: 0 }]
  const runs: { fromS: number; toS: number; atS: number; seamInS: number; seamOutS: number }[] = []
  let endS = 0
  for (const piece of assembly) {
    for (let time = 0; time < piece.times; time++) {
      const before = runs[runs.length - 1]
      const seamS = before ? piece.seamS : 0
      if (before) before.seamOutS = seamS
      runs.push({ fromS: piece.fromS, toS: piece.toS, atS: endS - seamS, seamInS: seamS, seamOutS: 0 })
      endS += piece.toS - piece.fromS - seamS
    }
  }
  return runs
}

/** How loud a run is at a time from its start, s: 1 but for its seams. */
export function seamGain({ fromS, toS, seamInS, seamOutS }: SourceRun, offsetS: number): number {
  const leftS = toS - fromS - offsetS
  const rising = offsetS < seamInS ? Math.sin(((Math.PI / 2) * offsetS) / seamInS) : 1
  const falling = leftS < seamOutS ? Math.sin(((Math.PI / 2) * leftS) / seamOutS) : 1
  return rising * falling
}
