import { joinedRanges, type TimeRange } from '../time-range'
import { HEARING_RATE_HZ } from './constants'
import type { Track } from './track'

/** Left and right are compared over so long, frames: a tenth of a second. */
const STEP_FRAMES = HEARING_RATE_HZ / 10
/** The side holds so many times the power of the middle: 9 dB. Left alone gives one; wide stereo stays under four. */
const OPPOSED_RATIO = 8
/** What is softer in the side is nothing that anybody hears, power: -60 dB. */
const AUDIBLE_POWER = 1e-6
/** Stretches no further apart are one, s. */
const GAP_S = 0.25

/**
 * Stretches of a track in which left and right are each other turned over, so that little is left of them in the middle: what is there is audible to whoever
 * listens in stereo, and a search of the middle does not hear it.
 */
export function opposedRanges(track: Track): TimeRange[] {
  if (!track.side) return []
  const ranges: TimeRange[] = []
  for (let from = 0; from < track.frames; from += STEP_FRAMES) {
    const to = Math.min(track.frames, from + STEP_FRAMES)
    const side = powerOf(track.sideSamples(from, to))
    if (side > AUDIBLE_POWER && side > OPPOSED_RATIO * powerOf(track.midSamples(from, to)))
      ranges.push({ startS: from / HEARING_RATE_HZ, endS: to / HEARING_RATE_HZ })
  }
  return joinedRanges(ranges, GAP_S)
}

function powerOf(samples: Float32Array): number {
  let sum = 0
  for (let i = 0; i < samples.length; i++) sum += (samples[i] as number) ** 2
  return samples.length > 0 ? sum / samples.length : 0
}
