import { FLOOR_DB, MEL_BANDS, type MelFrames } from './mel-frames'

/** Raised when vectors of an earlier form cannot be compared with new ones. */
export const LIKENESS_VERSION = 1

const CEPSTRA = 13
const PATCH_TIMES = 8
const PATCH_BANDS = 10
const ENVELOPE_STEPS = 16
/** Numbers in a vector. */
export const LIKENESS_LENGTH = 4 * CEPSTRA + PATCH_TIMES * PATCH_BANDS + ENVELOPE_STEPS + 6

/** Share of each part in the likeness, found by retrieval of variants among synthesised families. */
const WEIGHTS = { means: 1, deviations: 0.6, deltas: 0.6, patch: 0.9, envelope: 0.5, facts: 0.7 } as const

/**
 * What a sound sounds like, as a vector of length 1: the dot product of two is their likeness.
 *
 * Means, deviations and movements of 13 mel cepstra, an 8 x 10 picture of time and band around the middle of the sound, the shape of
 * its envelope, and its length, flux and steadiness. Level does not count. Source of the cepstra: S. B. Davis, P. Mermelstein 1980.
 */
export function likenessVector(frames: MelFrames): Float32Array {
  const cepstra = cepstraOf(frames)
  const weights = frameWeights(frames)
  const vector = Float32Array.from([
    ...scaled(means(cepstra, weights), WEIGHTS.means / 60),
    ...scaled(deviations(cepstra, weights), WEIGHTS.deviations / 30),
    ...scaled(deltas(cepstra, weights, 1), WEIGHTS.deltas / 12),
    ...scaled(deltas(cepstra, weights, 8), WEIGHTS.deltas / 24),
    ...scaled(patch(frames), WEIGHTS.patch / 60),
    ...scaled(envelope(frames), WEIGHTS.envelope / 2),
    ...scaled(facts(frames), WEIGHTS.facts),
  ])
  const norm = Math.hypot(...vector)
  return norm > 0 ? vector.map((value) => value / norm) : vector
}

function scaled(values: readonly number[], factor: number): number[] {
  return values.map((value) => value * factor)
}

/** Type II cosine transform of the levels of every frame; the first number, which is the level itself, comes first. */
function cepstraOf({ count, levelsDb }: MelFrames): Float32Array {
  const cosines = Float32Array.from({ length: CEPSTRA * MEL_BANDS }, (_, at) =>
    Math.cos((Math.PI * Math.floor(at / MEL_BANDS) * ((at % MEL_BANDS) + 0.5)) / MEL_BANDS),
  )
  const cepstra = new Float32Array(count * CEPSTRA)
  const scale = Math.sqrt(2 / MEL_BANDS)
  for (let frame = 0; frame < count; frame++) {
    for (let one = 0; one < CEPSTRA; one++) {
      let sum = 0
      for (let band = 0; band < MEL_BANDS; band++)
        sum += (levelsDb[frame * MEL_BANDS + band] as number) * (cosines[one * MEL_BANDS + band] as number)
      cepstra[frame * CEPSTRA + one] = sum * scale
    }
  }
  return cepstra
}

/** Loud frames say what a sound is; a frame 20 dB down counts a third. */
function frameWeights({ count, energies }: MelFrames): Float32Array {
  const loudest = energies.reduce((a, b) => Math.max(a, b), 0)
  return Float32Array.from({ length: count }, (_, frame) => ((energies[frame] as number) / loudest) ** 0.25)
}

function weightedMeans(
  values: Float32Array,
  weights: Float32Array,
  of: (value: number, one: number) => number,
): number[] {
  const total = weights.reduce((a, b) => a + b, 0)
  return Array.from({ length: CEPSTRA }, (_, one) => {
    let sum = 0
    for (let frame = 0; frame < weights.length; frame++)
      sum += (weights[frame] as number) * of(values[frame * CEPSTRA + one] as number, one)
    return sum / total
  })
}

/** Without the first, which is the level. */
function means(cepstra: Float32Array, weights: Float32Array): number[] {
  return weightedMeans(cepstra, weights, (value, one) => (one === 0 ? 0 : value))
}

function deviations(cepstra: Float32Array, weights: Float32Array): number[] {
  const middle = weightedMeans(cepstra, weights, (value) => value)
  return weightedMeans(cepstra, weights, (value, one) => (value - (middle[one] as number)) ** 2).map(Math.sqrt)
}

/** How much the cepstra move from a frame to a later one. */
function deltas(cepstra: Float32Array, weights: Float32Array, step: number): number[] {
  const moved = cepstra.map((value, at) => Math.abs((cepstra[at + step * CEPSTRA] ?? value) - value))
  return weightedMeans(moved, weights, (value) => value)
}

/** First and last frame within 40 dB of the loudest: silence at the ends is no part of a sound. */
function heard({ count, energies }: MelFrames): readonly [number, number] {
  const least = energies.reduce((a, b) => Math.max(a, b), 0) * 1e-4
  let first = 0
  let last = count - 1
  while (first < last && (energies[first] as number) < least) first++
  while (last > first && (energies[last] as number) < least) last--
  return [first, last + 1]
}

function patch(frames: MelFrames): number[] {
  const [from, to] = heard(frames)
  return Array.from({ length: PATCH_TIMES * PATCH_BANDS }, (_, cell) => {
    const time = Math.floor(cell / PATCH_BANDS)
    const band = cell % PATCH_BANDS
    const start = from + Math.floor(((to - from) * time) / PATCH_TIMES)
    const end = Math.max(start + 1, from + Math.floor(((to - from) * (time + 1)) / PATCH_TIMES))
    const width = MEL_BANDS / PATCH_BANDS
    let sum = 0
    for (let frame = start; frame < end; frame++)
      for (let at = band * width; at < (band + 1) * width; at++)
        sum += (frames.levelsDb[Math.min(frames.count - 1, frame) * MEL_BANDS + at] as number) - FLOOR_DB / 2
    return sum / ((end - start) * width)
  })
}

/** Level over the heard part, the loudest step being 1. */
function envelope(frames: MelFrames): number[] {
  const [from, to] = heard(frames)
  const steps = Array.from({ length: ENVELOPE_STEPS }, (_, step) => {
    const start = from + Math.floor(((to - from) * step) / ENVELOPE_STEPS)
    const end = Math.max(start + 1, from + Math.floor(((to - from) * (step + 1)) / ENVELOPE_STEPS))
    let loudest = 0
    for (let frame = start; frame < end; frame++) loudest = Math.max(loudest, frames.energies[frame] ?? 0)
    return loudest
  })
  const loudest = Math.max(...steps)
  return steps.map((energy) => (energy / loudest) ** 0.25 - 0.5)
}

/** Length, where the peak is, flux, steadiness, how full the picture is, and how long the sound lasts below its peak. */
function facts(frames: MelFrames): number[] {
  const [from, to] = heard(frames)
  const { energies, levelsDb, count } = frames
  let peak = from
  for (let frame = from; frame < to; frame++) if ((energies[frame] as number) > (energies[peak] as number)) peak = frame
  let flux = 0
  for (let at = MEL_BANDS; at < count * MEL_BANDS; at++)
    flux += Math.max(0, (levelsDb[at] as number) - (levelsDb[at - MEL_BANDS] as number))
  let full = 0
  for (const level of levelsDb) if (level > FLOOR_DB + 20) full++
  const loud = energies.filter((energy) => energy > (energies[peak] as number) / 10).length
  const lengthS = (to - from) * frames.hopS
  return [
    Math.max(-1.2, Math.min(1.2, Math.log2(lengthS / 1.5) / 4)),
    (peak - from) / (to - from) - 0.3,
    Math.min(1, flux / (count * MEL_BANDS) / 6) - 0.3,
    loud / count - 0.4,
    full / levelsDb.length - 0.5,
    Math.min(1, (to - peak) * frames.hopS) - 0.5,
  ]
}
