import { melFrames } from './mel-frames'
import { type Traits, traitsOf } from './traits'
import { likenessVector } from './vector'

export { type Traits, traitDifferences } from './traits'
export { LIKENESS_LENGTH, LIKENESS_VERSION } from './vector'

/** What a sound sounds like: to compare, and to say in words. */
export interface Likeness {
  readonly vector: Float32Array
  readonly traits: Traits
}

/**
 * Describes how a sound sounds.
 *
 * @param samples Mono, full scale 1. Not modified. @param sampleRateHz 8 000 to 192 000.
 * @returns Null for silence.
 */
export function likenessOf(samples: Float32Array, sampleRateHz: number): Likeness | null {
  const frames = melFrames(samples, sampleRateHz)
  if (!frames) return null
  return { vector: likenessVector(frames), traits: traitsOf(frames, samples.length / sampleRateHz) }
}

/** Vectors at this angle have nothing in common that would be heard. */
const STRANGERS_RAD = Math.PI / 3

/** How alike two sounds are, for people: 1 for the same, 0 for strangers. @param cosine Dot product of their vectors. */
export function alikeFraction(cosine: number): number {
  return Math.max(0, 1 - Math.acos(Math.max(-1, Math.min(1, cosine))) / STRANGERS_RAD)
}
