/** Where a kernel writes what it found in a block, a value for each chunk of 32 ms of the track. */
export interface ChunkValues {
  readonly peak: Float32Array
  /** Frame where the piece starts when `peak` is reached; null where nobody asks, which is cheaper. */
  readonly peakAt: Int32Array | null
  readonly meanSquare: Float32Array
}

/** How often band and rate are halved: 0 is all of it (16 kHz), 1 the lower half, 2 the lower quarter. Each halving saves half the work. */
export type Halvings = 0 | 1 | 2

/**
 * The part of a search that takes the time: filters two blocks of a track with a piece at once and sums them up.
 *
 * There is a plain one, which is the reference, and one in SIMD WebAssembly. Each keeps spectra in an order of its own, so what
 * one transformed only the same kind can filter.
 */
export interface BlockKernel {
  readonly name: 'plain' | 'wasm'
  /** Transforms two blocks, one as the real and one as the imaginary part, in place: `BLOCK_FRAMES >> halvings` values each. */
  transform(re: Float32Array, im: Float32Array, halvings: Halvings): void
  /** Sets the piece to correlate with, at the halved rate. */
  loadPiece(samples: Float32Array, halvings: Halvings): void
  /** Correlates two transformed blocks with the piece that was loaded last. */
  filterBlocks(trackRe: Float32Array, trackIm: Float32Array): void
  /**
   * Sums up the correlation of the piece with one (0 or 1) of the blocks filtered last.
   *
   * @param firstChunk Chunk of the track where the block starts; chunks beyond the arrays of `into` are left out.
   */
  scan(block: 0 | 1, firstChunk: number, into: ChunkValues): void
  /** Sets the template of `answer`, at the rate that the stretches will have. */
  loadTemplate(samples: Float32Array): void
  /**
   * Highest product of the template with a stretch of track over `ANSWER_LAGS` successive places.
   *
   * @param stretch As long as the template and `ANSWER_LAGS - 1` more.
   */
  answer(stretch: Float32Array): number
  /**
   * Products of the template with a stretch of track at successive places.
   *
   * @param stretch As long as the template and `lags - 1` more, at most a second in all. @param lags A multiple of 4.
   * @returns One for each place. Valid until the next call.
   */
  answers(stretch: Float32Array, lags: number): Float32Array
}

/** Places at which a template is tried around a peak of a coarser look: with a quarter of the band, that is up to ten frames off. */
export const ANSWER_LAGS = 16
