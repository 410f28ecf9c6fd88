import { joinedRanges, rangesWithout, type TimeRange } from '../time-range'
import { HEARING_RATE_HZ } from './constants'
import { energyOf } from './products'
import type { Track } from './track'

/** Left and right are compared over so long, frames: a tenth of a second. */
const STEP_FRAMES = HEARING_RATE_HZ / 10
/** The side holds so many times the power of the middle: 9 dB. Left alone gives one; wide stereo stays under four. */
const OPPOSED_RATIO = 8
/** What is softer in the side is nothing that anybody hears, power: -60 dB. */
const AUDIBLE_POWER = 1e-6
/** Stretches no further apart are one, s. */
const GAP_S = 0.25
/** Steps of which one at least opposes the middle together with those beside it: cymbals of a stereo mix do for a moment, over what goes on in the middle. */
const TOGETHER_STEPS = 3
/** Less than this beside a heard sound is its own end, which is told less exactly, s. */
const LEFT_MIN_S = 0.08

interface Powers {
  readonly mid: number
  readonly side: number
}

/**
 * Stretches of a track in which left and right are each other turned over, so that little is left of them in the middle: what is there is audible to whoever
 * listens in stereo, and a search of the middle does not hear it.
 */
export function opposedRanges(track: Track): TimeRange[] {
  if (!track.side) return []
  const steps: Powers[] = []
  for (let from = 0; from < track.frames; from += STEP_FRAMES) {
    const to = Math.min(track.frames, from + STEP_FRAMES)
    steps.push({ mid: powerOf(track.midSamples(from, to)), side: powerOf(track.sideSamples(from, to)) })
  }
  const ranges: TimeRange[] = []
  for (let from = 0; from < steps.length; from++) {
    if (!isOpposed([steps[from] as Powers])) continue
    let to = from + 1
    while (to < steps.length && isOpposed([steps[to] as Powers])) to++
    if (isOpposedTogether(steps, from, to)) ranges.push({ startS: secondsAt(from, track), endS: secondsAt(to, track) })
    from = to
  }
  return joinedRanges(ranges, GAP_S)
}

/** What is left of opposed stretches beside heard sounds. */
export function opposedBeside(opposed: readonly TimeRange[], heard: readonly TimeRange[]): TimeRange[] {
  return rangesWithout(opposed, joinedRanges(heard)).filter(({ startS, endS }) => endS - startS >= LEFT_MIN_S)
}

/** Whether a run of steps is opposed where it is taken with what lies around it. */
function isOpposedTogether(steps: readonly Powers[], from: number, to: number): boolean {
  const reach = TOGETHER_STEPS >> 1
  for (let step = from; step < to; step++)
    if (isOpposed(steps.slice(Math.max(0, step - reach), step + reach + 1))) return true
  return false
}

function isOpposed(steps: readonly Powers[]): boolean {
  const side = steps.reduce((sum, one) => sum + one.side, 0)
  const mid = steps.reduce((sum, one) => sum + one.mid, 0)
  return side > AUDIBLE_POWER && side > OPPOSED_RATIO * mid
}

function secondsAt(step: number, { frames }: Track): number {
  return Math.min(frames, step * STEP_FRAMES) / HEARING_RATE_HZ
}

function powerOf(samples: Float32Array): number {
  return energyOf(samples) / samples.length
}
