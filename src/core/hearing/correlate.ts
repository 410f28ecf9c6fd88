import { Fft } from '../audio/fft'
import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES } from './constants'
import type { Piece } from './prepare'
import { whitenedTrack } from './whiten'

/** A track made ready for search. The arrays may lie in shared memory: searching only reads them. */
export interface PreparedTrack {
  /** Mono at the hearing rate. */
  readonly samples: Float32Array
  /** Spectra of the whitened track's overlapping blocks, bins 0 to half the block, block after block. */
  readonly spectraRe: Float32Array
  readonly spectraIm: Float32Array
}

/** Summary of the correlation of one piece with the track, a value for each chunk of 32 ms. */
export interface ChunkSummary {
  readonly peak: Float32Array
  /** Frame in the track where the piece starts when `peak` is reached. */
  readonly peakAt: Int32Array
  readonly meanSquare: Float32Array
}

const BINS = BLOCK_FRAMES / 2 + 1

/** Number of blocks that a track of this many frames is cut into. */
export function blockCount(frames: number): number {
  return Math.max(1, Math.ceil(frames / BLOCK_ADVANCE))
}

/** Number of floats in each of the two spectra arrays of a track of this many frames. */
export function spectraLength(frames: number): number {
  return blockCount(frames) * BINS
}

/**
 * Whitens a track and transforms its blocks.
 *
 * @param samples Mono at the hearing rate. Kept, not modified.
 * @param into Two arrays of `spectraLength(samples.length)` to fill, for instance in shared memory.
 */
export function preparedTrack(
  samples: Float32Array,
  into: { readonly spectraRe: Float32Array; readonly spectraIm: Float32Array } = {
    spectraRe: new Float32Array(spectraLength(samples.length)),
    spectraIm: new Float32Array(spectraLength(samples.length)),
  },
): PreparedTrack {
  const whitened = whitenedTrack(samples)
  const fft = new Fft(BLOCK_FRAMES)
  const re = new Float32Array(BLOCK_FRAMES)
  const im = new Float32Array(BLOCK_FRAMES)
  for (let block = 0; block < blockCount(samples.length); block++) {
    const start = block * BLOCK_ADVANCE
    re.fill(0)
    im.fill(0)
    re.set(whitened.subarray(start, start + BLOCK_FRAMES))
    fft.forward(re, im)
    into.spectraRe.set(re.subarray(0, BINS), block * BINS)
    into.spectraIm.set(im.subarray(0, BINS), block * BINS)
  }
  return { samples, ...into }
}

/** Correlates pieces with a track. One instance a thread: it owns its buffers. */
export class Correlator {
  private readonly fft = new Fft(BLOCK_FRAMES)
  private readonly filterRe = new Float32Array(BLOCK_FRAMES)
  private readonly filterIm = new Float32Array(BLOCK_FRAMES)
  private readonly re = new Float32Array(BLOCK_FRAMES)
  private readonly im = new Float32Array(BLOCK_FRAMES)

  /**
   * Correlates one or two pieces with the whole track; two cost as much as one, since they share a complex transform.
   *
   * @returns One summary for each piece, in order.
   */
  summaries(track: PreparedTrack, first: Piece, second: Piece | null): ChunkSummary[] {
    this.loadFilters(first, second)
    const chunks = Math.ceil(track.samples.length / CHUNK_FRAMES)
    const results = [emptySummary(chunks), ...(second ? [emptySummary(chunks)] : [])]
    for (let block = 0; block < blockCount(track.samples.length); block++) {
      this.filterBlock(track, block)
      const start = block * BLOCK_ADVANCE
      scanBlock(this.re, start, results[0] as ChunkSummary)
      if (second) scanBlock(this.im, start, results[1] as ChunkSummary)
    }
    return results
  }

  /** Transform of first + i second, then conj(F1) + i conj(F2) from its even and odd parts. */
  private loadFilters(first: Piece, second: Piece | null): void {
    const { filterRe, filterIm } = this
    const size = BLOCK_FRAMES
    filterRe.fill(0)
    filterIm.fill(0)
    // conj(P1) + i conj(P2) is the transform of the time-reversed p1 + i p2.
    placeReversed(filterRe, first.samples)
    if (second) placeReversed(filterIm, second.samples)
    this.fft.forward(filterRe, filterIm)
    const scale = 1 / size
    for (let k = 0; k < size; k++) {
      filterRe[k] = (filterRe[k] as number) * scale
      filterIm[k] = (filterIm[k] as number) * scale
    }
  }

  private filterBlock(track: PreparedTrack, block: number): void {
    const { re, im, filterRe, filterIm } = this
    const { spectraRe, spectraIm } = track
    const base = block * BINS
    const size = BLOCK_FRAMES
    for (let k = 0; k < BINS; k++) {
      const tr = spectraRe[base + k] as number
      const ti = spectraIm[base + k] as number
      const fr = filterRe[k] as number
      const fi = filterIm[k] as number
      re[k] = tr * fr - ti * fi
      im[k] = tr * fi + ti * fr
      if (k > 0 && k < size / 2) {
        const gr = filterRe[size - k] as number
        const gi = filterIm[size - k] as number
        re[size - k] = tr * gr + ti * gi
        im[size - k] = tr * gi - ti * gr
      }
    }
    this.fft.inverse(re, im)
  }
}

function placeReversed(into: Float32Array, samples: Float32Array): void {
  into[0] = samples[0] as number
  for (let n = 1; n < samples.length; n++) into[into.length - n] = samples[n] as number
}

function emptySummary(chunks: number): ChunkSummary {
  return { peak: new Float32Array(chunks), peakAt: new Int32Array(chunks), meanSquare: new Float32Array(chunks) }
}

function scanBlock(values: Float32Array, start: number, into: ChunkSummary): void {
  const firstChunk = start / CHUNK_FRAMES
  const lastChunk = Math.min(into.peak.length, firstChunk + BLOCK_ADVANCE / CHUNK_FRAMES)
  for (let chunk = firstChunk; chunk < lastChunk; chunk++) {
    const from = (chunk - firstChunk) * CHUNK_FRAMES
    let peak = 0
    let at = from
    let sum = 0
    for (let i = from; i < from + CHUNK_FRAMES; i++) {
      const value = values[i] as number
      sum += value * value
      if (value > peak) {
        peak = value
        at = i
      }
    }
    into.peak[chunk] = peak
    into.peakAt[chunk] = start + at
    into.meanSquare[chunk] = sum / CHUNK_FRAMES
  }
}
