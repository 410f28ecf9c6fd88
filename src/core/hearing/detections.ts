import { confidenceOf, scoreThreshold } from './confidence'
import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound } from './prepare'
import type { RawDetection } from './search'
import { settledDetections } from './settle'

/** A place in a track where a sound is heard. */
export interface Detection {
  /** Index into the list of sounds. */
  readonly soundIndex: number
  /** Place in the track, s. */
  readonly startS: number
  readonly endS: number
  /** Part of the sound that is heard, s. */
  readonly fromS: number
  readonly toS: number
  /** Playing speed relative to the file; always 1 as yet. */
  readonly speed: number
  /** Level relative to the file, dB, both taken as mono (mean of left and right). */
  readonly gainDb: number
  /** 0.5 (just believed) to 1. */
  readonly confidence: number
}

/**
 * Settles raw finds into the list that is reported.
 *
 * @param raw Finds of all searches of one track, with indices into `sounds`.
 * @param durationS Length of the track.
 */
export function finalDetections(
  raw: readonly RawDetection[],
  sounds: readonly (PreparedSound | null)[],
  durationS: number,
): Detection[] {
  const threshold = scoreThreshold({ soundCount: sounds.length, durationS })
  return settledDetections(
    raw.filter((find) => find.score >= threshold),
    sounds,
  ).map(({ soundIndex, lag, from, to, gain, score }) => ({
    soundIndex,
    startS: Math.max(0, (lag + from) / HEARING_RATE_HZ),
    endS: Math.min(durationS, (lag + to) / HEARING_RATE_HZ),
    fromS: from / HEARING_RATE_HZ,
    toS: to / HEARING_RATE_HZ,
    speed: 1,
    gainDb: 20 * Math.log10(gain),
    confidence: confidenceOf(score, threshold),
  }))
}
