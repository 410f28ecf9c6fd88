import type { TimeRange } from '../time-range'
import { type Spectra, unlikeDb } from './spectra'

/** The level of the steady part stays within this of its middle, dB. */
const LEVEL_WITHIN_DB = 6
/** A moment is steady when what comes before and after it for so long is alike, s. */
const AROUND_S = 0.3
/** Single frames that stand out, a drop or a crackle, do not end it up to this long, s. */
const PASSED_OVER_S = 0.15
/** A shorter one is none, s. */
const SHORTEST_S = 0.25
/** The sound may differ by so much more than the middle frame does from its neighbours, dB. */
const UNLIKE_MORE_DB = 5

/**
 * The longest part of a sound that goes on alike: after it has begun and before it dies.
 *
 * @returns Null where there is none, as in a hit.
 */
export function steadyPart(spectra: Spectra): TimeRange | null {
  const { frames, frameDb, stepS } = spectra
  const loud = [...frameDb].filter((db) => db > -80).sort((a, b) => a - b)
  if (loud.length * stepS < SHORTEST_S) return null
  const around = Math.max(1, Math.round(AROUND_S / stepS))
  const changes = Float32Array.from({ length: frames }, (_, at) =>
    unlikeDb(spectra, Math.max(0, at - around), Math.min(frames - 1, at + around)),
  )
  const usual = [...changes].sort((a, b) => a - b)[Math.floor(frames / 2)] as number
  // The level that most of the sound has: of a beginning and an end there is less.
  const middleDb = modeDb(loud)
  const isSteady = (at: number): boolean =>
    Math.abs((frameDb[at] as number) - middleDb) <= LEVEL_WITHIN_DB && (changes[at] as number) <= usual + UNLIKE_MORE_DB
  const passedOver = Math.round(PASSED_OVER_S / stepS)
  let best: { from: number; to: number } | null = null
  let from = -1
  let last = -1
  for (let at = 0; at <= frames; at++) {
    const ends = at === frames || (from >= 0 && at - last > passedOver)
    if (ends && from >= 0) {
      if (!best || last - from > best.to - best.from) best = { from, to: last }
      from = -1
    }
    if (at < frames && isSteady(at)) {
      if (from < 0) from = at
      last = at
    }
  }
  if (!best || (best.to + 1 - best.from) * stepS < SHORTEST_S) return null
  return { startS: best.from * stepS, endS: (best.to + 1) * stepS }
}

/** Middle of the window of 6 dB that holds most of the levels. @param sorted In ascending order, not empty. */
function modeDb(sorted: readonly number[]): number {
  let [best, count] = [sorted[0] as number, 0]
  for (let low = 0, high = 0; low < sorted.length; low++) {
    while (high < sorted.length && (sorted[high] as number) <= (sorted[low] as number) + LEVEL_WITHIN_DB) high++
    if (high - low > count) [best, count] = [sorted[low + Math.floor((high - low) / 2)] as number, high - low]
  }
  return best
}
