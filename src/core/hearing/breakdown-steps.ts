import type { TimeRange } from '../time-range'
import { HEARING_RATE_HZ } from './constants'

/** What a stretch of a track is, apart from the sounds that were heard. */
export type SegmentKind = 'speech' | 'music' | 'noise' | 'silence'

/** Step of the analysis and of the voice model, frames (32 ms). */
export const BREAKDOWN_HOP = 512
/** Under this level, dB relative to full scale, there is nothing to hear. */
export const SILENCE_DB = -66
/** Steps around speech and heard sounds in which nothing is called unexplained. */
const EVENT_GUARD = 4

/** Flags of the steps that stretches cover. */
export function coveredSteps(stretches: readonly TimeRange[], steps: number): Uint8Array {
  const flags = new Uint8Array(steps)
  for (const { startS, endS } of stretches) {
    const from = Math.floor((startS * HEARING_RATE_HZ) / BREAKDOWN_HOP)
    flags.fill(1, Math.max(0, from), Math.ceil((endS * HEARING_RATE_HZ) / BREAKDOWN_HOP))
  }
  return flags
}

/** Steps at and around those that are flagged in either list. */
export function guarded(voiced: Uint8Array, covered: Uint8Array): Uint8Array {
  const flags = new Uint8Array(voiced.length)
  for (let step = 0; step < flags.length; step++)
    if (voiced[step] || covered[step]) flags.fill(1, Math.max(0, step - EVENT_GUARD), step + EVENT_GUARD + 1)
  return flags
}

/** The middle one of some values, the upper of two; 0 for none. */
export function median(values: ArrayLike<number>): number {
  return Float32Array.from(values).sort()[values.length >> 1] ?? 0
}

/** A power as a level, dB; -120 for none. */
export function decibels(power: number): number {
  return 10 * Math.log10(power + 1e-12)
}
