/** Where a kernel writes what it found in a block, a value for each chunk of 32 ms of the track. */
export interface ChunkValues {
  readonly peak: Float32Array
  /** Frame in the track where the piece starts when `peak` is reached. */
  readonly peakAt: Int32Array
  readonly meanSquare: Float32Array
}

/**
 * The part of a search that takes the time: filters one block of a track with two pieces at once and sums it up.
 *
 * There is a plain one, which is the reference, and one in SIMD WebAssembly.
 */
export interface BlockKernel {
  readonly name: 'plain' | 'wasm'
  /** Sets the pieces to correlate with. Null stands for silence. */
  loadPieces(first: Float32Array, second: Float32Array | null): void
  /** Correlates a block: half spectra, bins 0 to half the block. */
  filterBlock(trackRe: Float32Array, trackIm: Float32Array): void
  /**
   * Sums up the correlation of a piece (0 or 1) with the block filtered last.
   *
   * @param firstChunk Chunk of the track where the block starts; chunks beyond the arrays of `into` are left out.
   */
  scan(piece: 0 | 1, firstChunk: number, into: ChunkValues): void
}
