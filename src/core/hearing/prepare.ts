import { HEARING_RATE_HZ, PIECE_MAX_FRAMES, PIECES_MAX, SOUND_MIN_S } from './constants'
import { whitenedSound } from './whiten'

/** A stretch of a sound that is looked for by correlation. */
export interface Piece {
  /** First frame of the piece in the sound. */
  readonly start: number
  /** Whitened samples, unit norm. */
  readonly samples: Float32Array
}

/** What hearing keeps of a sound. */
export interface PreparedSound {
  /** Mono at the hearing rate, as the file has it. */
  readonly samples: Float32Array
  readonly pieces: readonly Piece[]
}

/** Pieces this far under the strongest one are not worth a search, dB. */
const PIECE_RANGE_DB = 36

/**
 * Prepares a sound for hearing.
 *
 * @param samples Mono at the hearing rate. Kept, not modified.
 * @returns Null when the sound is silent or under 0.12 s: such a sound cannot be heard for sure.
 */
export function preparedSound(samples: Float32Array): PreparedSound | null {
  if (samples.length < SOUND_MIN_S * HEARING_RATE_HZ) return null
  const whitened = whitenedSound(samples)
  const count = Math.ceil(samples.length / PIECE_MAX_FRAMES)
  const length = Math.ceil(samples.length / count)
  const candidates = Array.from({ length: count }, (_, index) => {
    const start = index * length
    const end = Math.min(samples.length, start + length)
    return { start, energy: energyOf(samples, start, end), samples: unitNorm(whitened.subarray(start, end)) }
  })
  const strongest = Math.max(...candidates.map((piece) => piece.energy))
  if (!(strongest > 1e-9)) return null
  const floor = strongest * 10 ** (-PIECE_RANGE_DB / 10)
  const pieces = candidates
    .filter((piece) => piece.energy > floor)
    .sort((a, b) => b.energy - a.energy)
    .slice(0, PIECES_MAX)
    .map(({ start, samples: part }) => ({ start, samples: part }))
  return { samples, pieces }
}

function energyOf(samples: Float32Array, start: number, end: number): number {
  let sum = 0
  for (let i = start; i < end; i++) sum += (samples[i] as number) ** 2
  return sum
}

function unitNorm(samples: Float32Array): Float32Array {
  const energy = energyOf(samples, 0, samples.length)
  const scale = energy > 0 ? 1 / Math.sqrt(energy) : 0
  return samples.map((value) => value * scale)
}
