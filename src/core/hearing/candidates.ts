import { Fft } from '../audio'
import type { ChunkSummary } from './chunk-summary'
import { BLOCK_CHUNKS, CHUNK_FRAMES } from './constants'
import type { Halvings } from './kernel/block-kernel'
import { energyOf } from './products'

/** A place where a piece stands out of the correlation. */
export interface PiecePeak {
  /** Frame of the track where the whole sound would start. */
  readonly lag: number
  /** The piece that stands out, frames of the sound. */
  readonly pieceFrom: number
  readonly pieceTo: number
  /** Height over the local noise floor, in standard deviations, after the piece's own scale. */
  readonly z: number
}

/** Heights of a correlation over its local floor, chunk by chunk, in standard deviations after the piece's own scale. */
export interface Heights {
  readonly z: Float32Array
  /** By how much the piece rings with the track everywhere: 1 for white noise. */
  readonly scale: number
}

/** Mean square of what a piece answers to itself in the next chunk and in the one after it, against the square of what it answers in place. */
export type Ringing = readonly [next: number, second: number]
const NO_RINGING: Ringing = [0, 0]
/** So much of it counts: a tone answers to any tone of its pitch as it does to itself, only longer. Measured: with all of it, hums passed for each other. */
const RINGING_COUNTS = 0.5
/** So many displacements in a chunk give the mean, spread by the golden section: even steps would keep step with some pitches. */
const RINGING_LAGS = 16
const GOLDEN = (Math.sqrt(5) - 1) / 2

/** How much a piece answers to itself beside its place. @param template At the hearing rate, or halved so often. */
export function ringingOf(template: Float32Array, halvings: Halvings): Ringing {
  const chunk = CHUNK_FRAMES >> halvings
  const own = energyOf(template) ** 2 || 1
  const answers = autocorrelation(template, 3 * chunk)
  const meanSquare = (from: number): number => {
    let sum = 0
    for (let k = 0; k < RINGING_LAGS; k++)
      sum += (answers[from + Math.floor(chunk * ((k * GOLDEN) % 1))] as number) ** 2
    return sum / RINGING_LAGS / own
  }
  return [meanSquare(chunk / 2), meanSquare((3 * chunk) / 2)]
}

/** What a template answers to itself at each of so many displacements, from 0 on, by way of its power spectrum. */
function autocorrelation(template: Float32Array, lags: number): Float32Array {
  const size = 2 ** Math.ceil(Math.log2(template.length + lags))
  const [re, im] = [new Float32Array(size), new Float32Array(size)]
  re.set(template)
  const fft = new Fft(size)
  fft.forward(re, im)
  for (let k = 0; k < size; k++) re[k] = ((re[k] as number) ** 2 + (im[k] as number) ** 2) / size
  im.fill(0)
  fft.inverse(re, im)
  // Beyond its own length it answers nothing; the transform gives what its precision leaves.
  return re.subarray(0, lags).fill(0, Math.min(lags, template.length))
}

/** Chunks that share one floor: the median of the mean squares of FLOOR_GROUPS such groups (1.5 s to each side). */
const FLOOR_STRIDE = 16
const FLOOR_GROUPS = 7
/** What the 90th percentile of a chunk's peak is for white noise, in standard deviations, with the whole, half and quarter band. */
const WHITE_PEAK_P90 = [3.6, 3.4, 3.2] as const
/** More peaks than this for one piece and window are the piece ringing with the music. */
const PEAKS_MAX = 64

/**
 * Heights of a correlation over its surroundings.
 *
 * @param scale Taken from the values where it is left out. @param ringing How the piece answers to itself beside a place.
 */
export function heightsOf(
  summary: ChunkSummary,
  halvings: Halvings,
  { scale, ringing = NO_RINGING }: { readonly scale?: number; readonly ringing?: Ringing } = {},
): Heights {
  const { peak, meanSquare } = summary
  const chunks = peak.length
  const z = new Float32Array(chunks)
  const floors = localFloors(meanSquare)
  for (let chunk = 0; chunk < chunks; chunk++) {
    if (peak[chunk] === 0) continue
    const floor = Math.max(floors[Math.floor(chunk / FLOOR_STRIDE)] as number, neighbourFloor(summary, chunk, ringing))
    z[chunk] = floor > 0 ? (peak[chunk] as number) / Math.sqrt(floor) : 0
  }
  const known = scale ?? Math.max(1, percentile90(z) / WHITE_PEAK_P90[halvings])
  for (let chunk = 0; chunk < chunks; chunk++) z[chunk] = (z[chunk] as number) / known
  return { z, scale: known }
}

/** Blocks in which a height reaches the threshold, a flag for each. */
export function flaggedBlocks(z: Float32Array, threshold: number, blocks: number): Uint8Array {
  const flags = new Uint8Array(blocks)
  for (let chunk = 0; chunk < z.length; chunk++) {
    if ((z[chunk] as number) >= threshold) flags[Math.floor(chunk / BLOCK_CHUNKS)] = 1
  }
  return flags
}

/** A place that a first pass found. */
export interface CoarsePlace {
  /** Block in which it lies, and frame of the window where the template starts. */
  readonly block: number
  readonly at: number
}

/** Places of a summary that reach the threshold, highest of their chunk. */
export function coarsePlaces(z: Float32Array, { peakAt }: ChunkSummary, threshold: number): CoarsePlace[] {
  const places: CoarsePlace[] = []
  for (let chunk = 0; chunk < z.length; chunk++) {
    if ((z[chunk] as number) < threshold) continue
    places.push({ block: Math.floor(chunk / BLOCK_CHUNKS), at: peakAt?.[chunk] ?? chunk * CHUNK_FRAMES })
  }
  return places
}

/**
 * Peaks of one piece's correlation that stand out of their surroundings.
 *
 * @param windowStart Frame of the track where the summary begins. @param zMin Lower peaks are left out.
 * @returns At most 64, highest first.
 */
export function piecePeaks(
  { peakAt }: ChunkSummary,
  { z }: Heights,
  piece: { readonly start: number; readonly end: number },
  { windowStart, zMin }: { readonly windowStart: number; readonly zMin: number },
): PiecePeak[] {
  const peaks: PiecePeak[] = []
  for (let chunk = 0; chunk < z.length; chunk++) {
    const height = z[chunk] as number
    if (height < zMin) continue
    if (height < (z[chunk - 1] ?? 0) || height < (z[chunk + 1] ?? 0)) continue
    const lag = windowStart + (peakAt?.[chunk] ?? 0) - piece.start
    peaks.push({ lag, pieceFrom: piece.start, pieceTo: piece.end, z: height })
  }
  return peaks.sort((a, b) => b.z - a.z).slice(0, PEAKS_MAX)
}

/** Median of the mean squares around, a value for each stride; chunks that were not computed do not count. */
function localFloors(meanSquare: Float32Array): Float32Array {
  const groups = Math.ceil(meanSquare.length / FLOOR_STRIDE)
  const means = new Float32Array(groups)
  for (let group = 0; group < groups; group++) {
    let sum = 0
    let count = 0
    const end = Math.min(meanSquare.length, (group + 1) * FLOOR_STRIDE)
    for (let chunk = group * FLOOR_STRIDE; chunk < end; chunk++) {
      const value = meanSquare[chunk] as number
      if (value > 0) count++
      sum += value
    }
    means[group] = count > 0 ? sum / count : 0
  }
  const floors = new Float32Array(groups)
  const around = new Float32Array(FLOOR_GROUPS)
  for (let group = 0; group < groups; group++) {
    let count = 0
    for (let other = group - (FLOOR_GROUPS >> 1); other <= group + (FLOOR_GROUPS >> 1); other++) {
      const value = means[other] ?? 0
      if (value > 0) count = inserted(around, count, value)
    }
    floors[group] = count > 0 ? (around[count >> 1] as number) : 0
  }
  return floors
}

/** Keeps the first `count` values sorted while one more comes in. */
function inserted(sorted: Float32Array, count: number, value: number): number {
  let at = count
  while (at > 0 && (sorted[at - 1] as number) > value) {
    sorted[at] = sorted[at - 1] as number
    at--
  }
  sorted[at] = value
  return count + 1
}

/** Mean square of the two chunks on each side, which ring with the peak when the piece is a tone: as far as the piece itself does not account for it. */
function neighbourFloor({ peak, meanSquare }: ChunkSummary, chunk: number, ringing: Ringing): number {
  // Written out: every chunk of every template comes by here. Chunks that were not computed, or are beyond the ends, are 0.
  const one = chunk > 0 ? (meanSquare[chunk - 1] as number) : 0
  const two = chunk > 1 ? (meanSquare[chunk - 2] as number) : 0
  const next = chunk + 1 < meanSquare.length ? (meanSquare[chunk + 1] as number) : 0
  const second = chunk + 2 < meanSquare.length ? (meanSquare[chunk + 2] as number) : 0
  const near = (one === 0 ? 0 : 1) + (next === 0 ? 0 : 1)
  const far = (two === 0 ? 0 : 1) + (second === 0 ? 0 : 1)
  if (near + far === 0) return 0
  const own = RINGING_COUNTS * (peak[chunk] as number) ** 2 * (near * ringing[0] + far * ringing[1])
  return Math.max(0, one + two + next + second - own) / (near + far)
}

/** Of every fourth value: enough for a scale. */
function percentile90(values: Float32Array): number {
  const some = new Float32Array(Math.ceil(values.length / 4))
  for (let i = 0; i < some.length; i++) some[i] = values[4 * i] as number
  some.sort()
  return some[Math.floor(some.length * 0.9)] ?? 0
}
