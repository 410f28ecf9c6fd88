import { CHUNK_FRAMES, HEARING_RATE_HZ } from './constants'
import type { ChunkSummary } from './correlate'
import type { Piece } from './prepare'

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

/** Peaks under this are not worth a look. Measured: chance passes it about once a minute and piece. */
const PEAK_MIN_Z = 5.8
/** The floor is the median over this much track to each side, s, taken anew every FLOOR_STRIDE chunks. */
const FLOOR_SPAN_S = 1.5
const FLOOR_STRIDE = 16
/** What the 90th percentile of a chunk's peak is for white noise, in standard deviations. */
const WHITE_PEAK_P90 = 3.6
/** More peaks than this for one piece are the piece ringing with the music. */
const PEAKS_MAX = 64

/**
 * Peaks of one piece's correlation that stand out of their surroundings.
 *
 * @returns At most 64, highest first.
 */
export function piecePeaks(summary: ChunkSummary, piece: Piece): PiecePeak[] {
  const pieceFrom = piece.start
  const pieceTo = piece.start + piece.samples.length
  const chunks = summary.peak.length
  const z = new Float32Array(chunks)
  const floors = localFloors(summary.meanSquare)
  for (let chunk = 0; chunk < chunks; chunk++) {
    const floor = Math.max(
      floors[Math.floor(chunk / FLOOR_STRIDE)] as number,
      neighbourFloor(summary.meanSquare, chunk),
    )
    z[chunk] = floor > 0 ? (summary.peak[chunk] as number) / Math.sqrt(floor) : 0
  }
  const scale = Math.max(1, percentile90(z) / WHITE_PEAK_P90)
  const peaks: PiecePeak[] = []
  for (let chunk = 0; chunk < chunks; chunk++) {
    const height = (z[chunk] as number) / scale
    if (height < PEAK_MIN_Z) continue
    if (height < (z[chunk - 1] ?? 0) / scale || height < (z[chunk + 1] ?? 0) / scale) continue
    peaks.push({ lag: (summary.peakAt[chunk] as number) - pieceFrom, pieceFrom, pieceTo, z: height })
  }
  return peaks.sort((a, b) => b.z - a.z).slice(0, PEAKS_MAX)
}

function localFloors(meanSquare: Float32Array): Float32Array {
  const span = Math.round((FLOOR_SPAN_S * HEARING_RATE_HZ) / CHUNK_FRAMES)
  const floors = new Float32Array(Math.ceil(meanSquare.length / FLOOR_STRIDE))
  for (let i = 0; i < floors.length; i++) {
    const centre = i * FLOOR_STRIDE + FLOOR_STRIDE / 2
    const around = meanSquare.slice(Math.max(0, centre - span), Math.min(meanSquare.length, centre + span)).sort()
    floors[i] = around[around.length >> 1] ?? 0
  }
  return floors
}

/** Mean square of the two chunks on each side, which ring with the peak when the piece is a tone. */
function neighbourFloor(meanSquare: Float32Array, chunk: number): number {
  let sum = 0
  let count = 0
  for (const offset of [-2, -1, 1, 2]) {
    const value = meanSquare[chunk + offset]
    if (value === undefined) continue
    sum += value
    count++
  }
  return count > 0 ? sum / count : 0
}

function percentile90(values: Float32Array): number {
  const sorted = values.slice().sort()
  return sorted[Math.floor(sorted.length * 0.9)] ?? 0
}
