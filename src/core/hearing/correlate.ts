import { Fft } from '../audio/fft'
import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES } from './constants'
import type { BlockKernel, ChunkValues } from './kernel/block-kernel'
import { PlainKernel } from './kernel/plain-kernel'
import { wasmKernel } from './kernel/wasm-kernel'
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
export type ChunkSummary = ChunkValues

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

/** Correlates pieces with a track. One instance a thread: its kernel owns its buffers. */
export class Correlator {
  /** @param kernel SIMD WebAssembly where it runs, else plain TypeScript. */
  constructor(private readonly kernel: BlockKernel = wasmKernel() ?? new PlainKernel()) {}

  /**
   * Correlates one or two pieces with the whole track; two cost as much as one, since they share a complex transform.
   *
   * @returns One summary for each piece, in order.
   */
  summaries(track: PreparedTrack, first: Piece, second: Piece | null): ChunkSummary[] {
    const { kernel } = this
    kernel.loadPieces(first.samples, second?.samples ?? null)
    const chunks = Math.ceil(track.samples.length / CHUNK_FRAMES)
    const results = [emptySummary(chunks), ...(second ? [emptySummary(chunks)] : [])]
    for (let block = 0; block < blockCount(track.samples.length); block++) {
      const from = block * BINS
      kernel.filterBlock(track.spectraRe.subarray(from, from + BINS), track.spectraIm.subarray(from, from + BINS))
      const firstChunk = (block * BLOCK_ADVANCE) / CHUNK_FRAMES
      kernel.scan(0, firstChunk, results[0] as ChunkSummary)
      if (second) kernel.scan(1, firstChunk, results[1] as ChunkSummary)
    }
    return results
  }
}

function emptySummary(chunks: number): ChunkSummary {
  return { peak: new Float32Array(chunks), peakAt: new Int32Array(chunks), meanSquare: new Float32Array(chunks) }
}
