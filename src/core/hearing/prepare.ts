import { Fft } from '../audio/fft'
import {
  HEARING_RATE_HZ,
  LONG_FRAMES,
  PIECE_MAX_FRAMES,
  PIECES_MAX,
  SOUND_MIN_S,
  STRETCH_PIECES,
  STRETCHES_MAX,
} from './constants'
import { soundMarks } from './marks'
import { energyOf, unitNorm } from './products'
import { whitenedSound } from './whiten'

/** A stretch of a sound that is looked for by correlation. */
export interface Piece {
  /** First frame of the piece in the sound. */
  readonly start: number
  /** Whitened samples, unit norm. */
  readonly samples: Float32Array
  /** Part of the whitened energy under a half and under a quarter of the band: what a search in less band can use. */
  readonly lowShares: readonly [half: number, quarter: number]
}

/** What hearing keeps of a sound. */
export interface PreparedSound {
  /** Mono (mean of left and right) at the hearing rate, as the file has it. */
  readonly samples: Float32Array
  /** How much of the middle the side holds, -1 (all on the right) to 1 (all on the left); 0 for mono and for balanced stereo. */
  readonly sideOfMid: number
  readonly pieces: readonly Piece[]
  /** Marks by which the same recording is recognised, one each 16 ms. */
  readonly marks: Uint32Array
}

/** Sounds by their place in a list, held or read when they are wanted. A list of sounds is one. */
export interface SoundsByIndex {
  at(index: number): PreparedSound | null | undefined
}

/** Pieces this far under the strongest one are not worth a search, dB. */
const PIECE_RANGE_DB = 36

/**
 * Prepares a sound for hearing.
 *
 * @param samples Mono at the hearing rate. Kept, not modified. @param side Half the difference of left and right, as long.
 * @returns Null when the sound is silent or under 0.12 s: such a sound cannot be heard for sure.
 */
export function preparedSound(samples: Float32Array, side: Float32Array | null = null): PreparedSound | null {
  if (samples.length < SOUND_MIN_S * HEARING_RATE_HZ) return null
  const whitened = whitenedSound(samples)
  const count = Math.ceil(samples.length / PIECE_MAX_FRAMES)
  const length = Math.ceil(samples.length / count)
  const candidates = Array.from({ length: count }, (_, index) => {
    const start = index * length
    const end = Math.min(samples.length, start + length)
    return { start, end, energy: energyOf(samples.subarray(start, end)) }
  })
  const strongest = Math.max(...candidates.map((piece) => piece.energy))
  if (!(strongest > 1e-9)) return null
  const floor = strongest * 10 ** (-PIECE_RANGE_DB / 10)
  const pieces = chosen(candidates, isLong(samples))
    .filter((piece) => piece.energy > floor)
    .map(({ start, end }) => {
      const part = unitNorm(whitened.subarray(start, end))
      return { start, samples: part, lowShares: lowShares(part) }
    })
  return { samples, sideOfMid: sideOfMid(samples, side), pieces, marks: soundMarks(samples) }
}

/** Whether a sound has pieces all along, and not only where it is loudest. @param samples At the hearing rate. */
export function isLong(samples: Float32Array): boolean {
  return samples.length > LONG_FRAMES
}

interface Candidate {
  readonly start: number
  readonly end: number
  readonly energy: number
}

/** The pieces that are looked for, the most energetic first: of all, or, of a long sound, of each stretch. */
function chosen(candidates: readonly Candidate[], long: boolean): Candidate[] {
  const byEnergy = (some: readonly Candidate[]): Candidate[] => [...some].sort((a, b) => b.energy - a.energy)
  if (!long) return byEnergy(candidates).slice(0, PIECES_MAX)
  const each = Math.max(STRETCH_PIECES, Math.ceil(candidates.length / STRETCHES_MAX))
  const stretches = Array.from({ length: Math.ceil(candidates.length / each) }, (_, k) =>
    candidates.slice(k * each, (k + 1) * each),
  )
  return byEnergy(stretches.flatMap((stretch) => byEnergy(stretch).slice(0, 1)))
}

function sideOfMid(mid: Float32Array, side: Float32Array | null): number {
  if (!side) return 0
  let cross = 0
  let energy = 1e-12
  for (let i = 0; i < mid.length; i++) {
    cross += (mid[i] as number) * (side[i] ?? 0)
    energy += (mid[i] as number) ** 2
  }
  return Math.max(-1, Math.min(1, cross / energy))
}

function lowShares(samples: Float32Array): readonly [number, number] {
  const size = 2 ** Math.max(3, Math.ceil(Math.log2(samples.length)))
  const re = new Float32Array(size)
  re.set(samples)
  const im = new Float32Array(size)
  new Fft(size).forward(re, im)
  let all = 1e-12
  let half = 0
  let quarter = 0
  for (let k = 1; k < size / 2; k++) {
    const power = (re[k] as number) ** 2 + (im[k] as number) ** 2
    all += power
    if (k < size / 4) half += power
    if (k < size / 8) quarter += power
  }
  return [half / all, quarter / all]
}
