import type { CoarsePlace } from './candidates'
import type { ChunkSummary } from './chunk-summary'
import { BLOCK_ADVANCE, BLOCK_CHUNKS, BLOCK_FRAMES, CHUNK_FRAMES, WHITEN_SIZE, WINDOW_FRAMES } from './constants'
import { ANSWER_LAGS, type BlockKernel, type Halvings } from './kernel/block-kernel'
import { PlainKernel } from './kernel/plain-kernel'
import { wasmKernel } from './kernel/wasm-kernel'
import { energyOf } from './products'
import type { Track } from './track'
import { whitenedTrack } from './whiten'

/**
 * A stretch of a track made ready for search, so that memory does not grow with the length of the track. The arrays may lie in
 * shared memory: searching only reads them. Only the kind of kernel that prepared it can search it.
 */
export interface PreparedWindow {
  /** Frame of the track where the window begins: a multiple of the chunk. */
  readonly start: number
  /** Places in [start, start + frames) are searched. */
  readonly frames: number
  /**
   * Spectra of the whitened track's overlapping blocks, two blocks to a transform: for each pair the whole band, then the lower
   * half, then the lower quarter.
   */
  readonly spectraRe: Float32Array
  readonly spectraIm: Float32Array
  /** The whitened track from `start` on, as far as the blocks reach. */
  readonly whitened: Float32Array
  /** The same in the lower half of the band, half as long. */
  readonly whitenedHalf: Float32Array
}

/** Values that a pair of blocks takes at all three widths of band. */
const PAIR_VALUES = BLOCK_FRAMES + BLOCK_FRAMES / 2 + BLOCK_FRAMES / 4
/** Whitened beyond the window by this much, so that its edges are as its middle. */
const WHITEN_MARGIN = 2 * WHITEN_SIZE

/** Number of blocks that a window of this many frames is cut into. */
export function blockCount(frames: number): number {
  return Math.max(1, Math.ceil(frames / BLOCK_ADVANCE))
}

/** Number of floats in each of the two spectra arrays of a window of this many frames. */
export function spectraLength(frames: number): number {
  return Math.ceil(blockCount(frames) / 2) * PAIR_VALUES
}

/** Number of whitened samples that belong to a window of this many frames. */
export function whitenedLength(frames: number): number {
  return (blockCount(frames) - 1) * BLOCK_ADVANCE + BLOCK_FRAMES
}

/** The windows that a track is searched in: start and number of frames. */
export function trackWindows(frames: number): { readonly start: number; readonly frames: number }[] {
  const count = Math.max(1, Math.ceil(frames / WINDOW_FRAMES))
  return Array.from({ length: count }, (_, index) => ({
    start: index * WINDOW_FRAMES,
    frames: Math.min(WINDOW_FRAMES, frames - index * WINDOW_FRAMES),
  }))
}

/** The whitened track from one frame of it to another, exclusive; silence where the window does not reach. */
export function whitenedStretch({ start, whitened }: PreparedWindow, from: number, to: number): Float32Array {
  if (from >= start && to <= start + whitened.length) return whitened.subarray(from - start, to - start)
  const out = new Float32Array(to - from)
  const first = Math.max(from, start)
  const last = Math.min(to, start + whitened.length)
  if (last > first) out.set(whitened.subarray(first - start, last - start), first - from)
  return out
}

/** SIMD WebAssembly where it runs, else plain TypeScript. */
export function bestKernel(): BlockKernel {
  return wasmKernel() ?? new PlainKernel()
}

/**
 * Whitens a stretch of a track and transforms its blocks.
 *
 * @param into Arrays to fill, for instance in shared memory: two of `spectraLength(frames)`, one of `whitenedLength(frames)`,
 *   one of half of that.
 */
export function preparedWindow(
  track: Track,
  { start, frames }: { readonly start: number; readonly frames: number },
  kernel: BlockKernel = bestKernel(),
  into: Pick<PreparedWindow, 'spectraRe' | 'spectraIm' | 'whitened' | 'whitenedHalf'> = {
    spectraRe: new Float32Array(spectraLength(frames)),
    spectraIm: new Float32Array(spectraLength(frames)),
    whitened: new Float32Array(whitenedLength(frames)),
    whitenedHalf: new Float32Array(whitenedLength(frames) / 2),
  },
): PreparedWindow {
  const blocks = blockCount(frames)
  const end = start + whitenedLength(frames)
  let samples = whitenedTrack(track.midSamples(start - WHITEN_MARGIN, end + WHITEN_MARGIN))
  into.whitened.set(samples.subarray(WHITEN_MARGIN, samples.length - WHITEN_MARGIN))
  for (const halvings of [0, 1, 2] as const) {
    if (halvings > 0) samples = halved(samples)
    const inner = samples.subarray(WHITEN_MARGIN >> halvings)
    if (halvings === 1) into.whitenedHalf.set(inner.subarray(0, into.whitenedHalf.length))
    for (let pair = 0; 2 * pair < blocks; pair++) {
      const at = spectrumAt(pair, halvings)
      const size = BLOCK_FRAMES >> halvings
      const re = into.spectraRe.subarray(at, at + size).fill(0)
      const im = into.spectraIm.subarray(at, at + size).fill(0)
      const from = (2 * pair * BLOCK_ADVANCE) >> halvings
      re.set(inner.subarray(from, from + size))
      const second = from + (BLOCK_ADVANCE >> halvings)
      if (2 * pair + 1 < blocks) im.set(inner.subarray(second, second + size))
      kernel.transform(re, im, halvings)
    }
  }
  return { start, frames, ...into }
}

function spectrumAt(pair: number, halvings: Halvings): number {
  const before = [0, BLOCK_FRAMES, BLOCK_FRAMES + BLOCK_FRAMES / 2] as const
  return pair * PAIR_VALUES + before[halvings]
}

/** Half-band low-pass, taps at 1, 3, 5 … from the middle (every other one is 0): a sinc under a Kaiser window of shape 6. */
const HALF_BAND = [0.31492, -0.09629, 0.04843, -0.02627, 0.01384, -0.00664, 0.00268, -0.00077] as const

/** Every second sample of what lies in the lower half of the band; sample 0 stays sample 0. */
export function halved(samples: Float32Array): Float32Array {
  const [h0, h1, h2, h3, h4, h5, h6, h7] = HALF_BAND
  const reach = 2 * HALF_BAND.length
  const x = new Float32Array(samples.length + 2 * reach)
  x.set(samples, reach)
  const out = new Float32Array(Math.ceil(samples.length / 2))
  for (let n = 0, at = reach; n < out.length; n++, at += 2) {
    // Written out: in a loop over the taps it takes twice as long.
    let sum = 0.5 * (x[at] as number)
    sum += h0 * ((x[at - 1] as number) + (x[at + 1] as number))
    sum += h1 * ((x[at - 3] as number) + (x[at + 3] as number))
    sum += h2 * ((x[at - 5] as number) + (x[at + 5] as number))
    sum += h3 * ((x[at - 7] as number) + (x[at + 7] as number))
    sum += h4 * ((x[at - 9] as number) + (x[at + 9] as number))
    sum += h5 * ((x[at - 11] as number) + (x[at + 11] as number))
    sum += h6 * ((x[at - 13] as number) + (x[at + 13] as number))
    sum += h7 * ((x[at - 15] as number) + (x[at + 15] as number))
    out[n] = sum
  }
  return out
}

/** Halved so many times. */
export function halvedTimes(samples: Float32Array, times: number): Float32Array {
  return times === 0 ? samples : halvedTimes(halved(samples), times - 1)
}

/** Correlates pieces with windows. One instance a thread: its kernel owns its buffers. */
export class Correlator {
  constructor(readonly kernel: BlockKernel = bestKernel()) {}

  /**
   * Correlates a template with a window.
   *
   * @param template At the hearing rate, or halved as often as `halvings` says.
   * @param only Blocks to do, a flag for each, with the places of the peaks; all blocks, without the places, where it is
   *   left out. Chunks of other blocks stay zero, but for those that share a transform with a wanted one.
   */
  summary(window: PreparedWindow, template: Float32Array, halvings: Halvings, only?: Uint8Array): ChunkSummary {
    const { kernel } = this
    kernel.loadPiece(template, halvings)
    const chunks = Math.ceil(window.frames / CHUNK_FRAMES)
    const blocks = blockCount(window.frames)
    const result: ChunkSummary = {
      peak: new Float32Array(chunks),
      peakAt: only ? new Int32Array(chunks) : null,
      meanSquare: new Float32Array(chunks),
    }
    for (let pair = 0; 2 * pair < blocks; pair++) {
      if (only && !only[2 * pair] && !only[2 * pair + 1]) continue
      const at = spectrumAt(pair, halvings)
      const size = BLOCK_FRAMES >> halvings
      kernel.filterBlocks(window.spectraRe.subarray(at, at + size), window.spectraIm.subarray(at, at + size))
      kernel.scan(0, 2 * pair * BLOCK_CHUNKS, result)
      if (2 * pair + 1 < blocks) kernel.scan(1, (2 * pair + 1) * BLOCK_CHUNKS, result)
    }
    return result
  }

  /**
   * Looks, in the lower half of the band, at places that a coarser pass found.
   *
   * @param template In the lower half of the band, of unit norm. @param heightMin In standard deviations.
   * @returns A flag for each block in which a place reaches the height.
   */
  answeringBlocks(
    window: PreparedWindow,
    template: Float32Array,
    places: readonly CoarsePlace[],
    heightMin: number,
  ): Uint8Array {
    const flags = new Uint8Array(blockCount(window.frames))
    if (places.length === 0) return flags
    this.kernel.loadTemplate(template)
    const length = template.length + ANSWER_LAGS - 1
    for (const { block, at } of places) {
      if (flags[block]) continue
      const from = Math.max(0, Math.min((at >> 1) - ANSWER_LAGS / 2, window.whitenedHalf.length - length))
      const stretch = window.whitenedHalf.subarray(from, from + length)
      const height = this.kernel.answer(stretch) / Math.sqrt(energyOf(stretch) / length + 1e-12)
      if (height >= heightMin) flags[block] = 1
    }
    return flags
  }
}
