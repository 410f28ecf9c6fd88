import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound } from './prepare'

/** A sound that is shorter than this to the ear is hardly told from other clicks, s. Measured: those from 0.016 s on are. */
const CLICK_S = 0.016
/** What each halving of that costs, in points of score. Measured: clicks of 5 to 7 ms were found falsely up to 9.2. */
const COST_A_HALVING = 2.5
/** Stretches that the energy is gathered in, frames (2 ms). */
const STRETCH_FRAMES = 32

/**
 * How long a sound is to a matched filter: the time that its whitened energy fills, s. The longest of its pieces.
 *
 * The participation ratio of the energies: all of it squared, over the sum of their squares.
 */
export function effectiveLengthS({ pieces }: PreparedSound): number {
  return Math.max(0, ...pieces.map(({ samples }) => filledFrames(samples))) / HEARING_RATE_HZ
}

/**
 * What is taken off the score of a find because the sound is a mere click. Every other click of the track, a consonant or a
 * hard cut, answers to it too.
 */
export function clickCost(sound: PreparedSound): number {
  const lengthS = effectiveLengthS(sound)
  return lengthS > 0 ? COST_A_HALVING * Math.max(0, Math.log2(CLICK_S / lengthS)) : 0
}

/** Whether a sound is so short to the ear that it is hardly told from other clicks. */
export function isMereClick(sound: PreparedSound): boolean {
  return effectiveLengthS(sound) < CLICK_S
}

function filledFrames(samples: Float32Array): number {
  let all = 0
  let squares = 1e-30
  for (let from = 0; from < samples.length; from += STRETCH_FRAMES) {
    let energy = 0
    for (let n = from; n < Math.min(from + STRETCH_FRAMES, samples.length); n++) energy += (samples[n] as number) ** 2
    all += energy
    squares += energy * energy
  }
  return (STRETCH_FRAMES * all * all) / squares
}
