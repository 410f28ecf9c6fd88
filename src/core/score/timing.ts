import type { MomentsDocument } from '../moments'
import type { AssemblyPiece, HitTarget, Placement } from './score'

/** Two instants that are closer than this meet, s: less than anyone hears, and more than rounding. */
export const MEETS_WITHIN_S = 0.0005

/** Length of the parts of an assembly one after the other, each led into the next, s of the source. */
export function assemblyLengthS(pieces: readonly AssemblyPiece[]): number {
  return pieces.reduce(
    (sum, { fromS, toS, times, seamS }, at) => sum + times * (toS - fromS) - (at === 0 ? times - 1 : times) * seamS,
    0,
  )
}

/** What is heard of the source, s of the source, before its rate. */
export function sourceLengthS({ assembly, fromS, toS }: Pick<Placement, 'assembly' | 'fromS' | 'toS'>): number {
  return assembly ? assemblyLengthS(assembly) : toS - fromS
}

/** How long a placement lasts in the video, without what a room adds at its end, s. */
export function placementLengthS(placement: Pick<Placement, 'assembly' | 'fromS' | 'toS' | 'rate'>): number {
  return sourceLengthS(placement) / placement.rate
}

export function placementEndS(placement: Placement): number {
  return placement.startS + placementLengthS(placement)
}

/** From the start of a placement to its hit, s; null where it has none, or where that is not heard. */
export function hitOffsetS(placement: Placement): number | null {
  const offsets = hitOffsetsS(placement)
  return offsets[Math.min(placement.hitRepeat, offsets.length - 1)] ?? null
}

/** From the start of a placement to each time that its hit is heard, in order, s: several where parts of the sound are repeated. */
export function hitOffsetsS(placement: Placement): number[] {
  const { hitS, rate, isReversed, assembly } = placement
  if (hitS === null) return []
  const lengthS = sourceLengthS(placement)
  const inPart = assembly ? offsetsInAssembly(assembly, hitS) : [hitS - placement.fromS]
  return inPart
    .filter((offsetS) => offsetS >= 0 && offsetS <= lengthS)
    .map((offsetS) => (isReversed ? lengthS - offsetS : offsetS) / rate)
    .sort((a, b) => a - b)
}

/** Where an instant of the source is heard in an assembly, s from its start. */
function offsetsInAssembly(pieces: readonly AssemblyPiece[], sourceS: number): number[] {
  const offsets: number[] = []
  let startS = 0
  for (const [at, { fromS, toS, times, seamS }] of pieces.entries()) {
    const lengthS = toS - fromS
    for (let time = 0; time < times; time++) {
      const runS = at === 0 && time === 0 ? 0 : startS - seamS
      if (sourceS >= fromS && sourceS <= toS) offsets.push(runS + sourceS - fromS)
      startS = runS + lengthS
    }
  }
  return offsets
}

/** Where the hit of a placement is in the video, s, or null. */
export function hitTimeS(placement: Placement): number | null {
  const offsetS = hitOffsetS(placement)
  return offsetS === null ? null : placement.startS + offsetS
}

/** Where a target is in the video, s; null for a moment that is not there any more. */
export function targetTimeS(target: HitTarget, { moments }: Pick<MomentsDocument, 'moments'>): number | null {
  if (target.kind !== 'moment') return target.atS
  return moments.find(({ id }) => id === target.momentId)?.atS ?? null
}

/** A placement moved so that its hit, or else its start, is at a time. None begins before the video. */
export function placedAt(placement: Placement, atS: number): Placement {
  return { ...placement, startS: Math.max(0, atS - (hitOffsetS(placement) ?? 0)) }
}

/** Whether the hit of a placement meets its target; null where it has none. */
export function meetsTarget(placement: Placement, document: Pick<MomentsDocument, 'moments'>): boolean | null {
  if (!placement.target) return null
  const wantedS = targetTimeS(placement.target, document)
  const atS = hitTimeS(placement) ?? placement.startS
  return wantedS !== null && Math.abs(atS - wantedS) <= MEETS_WITHIN_S
}
