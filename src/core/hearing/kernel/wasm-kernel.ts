import { fillTwiddles } from '../../audio/wasm-fft'
import { WASM_PAGE_BYTES, type WasmHost, WasmLayout, wasmHost, wasmModule } from '../../audio/wasm-host'
import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES, PIECE_MAX_FRAMES } from '../constants'
import { ANSWER_LAGS, type BlockKernel, type ChunkValues, type Halvings } from './block-kernel'
import { KERNEL_HEX } from './kernel-bytes'

interface KernelExports {
  forward(...offsets: number[]): void
  inverse(...offsets: number[]): void
  multiply(...offsets: number[]): void
  scan(...offsets: number[]): void
  dots(...offsets: number[]): void
}

const CHUNKS = BLOCK_ADVANCE / CHUNK_FRAMES

/** The kernel in SIMD WebAssembly, or null where that cannot run. */
export function wasmKernel(host: WasmHost | undefined = wasmHost()): BlockKernel | null {
  const module = wasmModule(host, KERNEL_HEX)
  return host && module ? new WasmKernel(host, module) : null
}

class WasmKernel implements BlockKernel {
  readonly name = 'wasm'
  private readonly exports: KernelExports
  private readonly buffer: ArrayBuffer
  private readonly at: Readonly<Record<ArrayName, number>>
  private halvings: Halvings = 0
  private templateFrames = 0

  constructor(host: WasmHost, module: object) {
    const layout = new WasmLayout()
    this.at = Object.fromEntries(Object.entries(ARRAYS).map(([name, count]) => [name, layout.floats(count)])) as Record<
      ArrayName,
      number
    >
    const memory = new host.Memory({ initial: Math.ceil(layout.bytes / WASM_PAGE_BYTES) })
    const instance = new host.Instance(module, { env: { memory } })
    this.exports = instance.exports as unknown as KernelExports
    this.buffer = memory.buffer
    const tables = {
      cos: this.array('cos'),
      sin: this.array('sin'),
      cosHalf: this.array('cosHalf'),
      sinHalf: this.array('sinHalf'),
    }
    // Whole and quarter band are powers of four, half the band is twice one.
    for (const size of [BLOCK_FRAMES, BLOCK_FRAMES / 2]) fillTwiddles(tables, size)
  }

  transform(re: Float32Array, im: Float32Array, halvings: Halvings): void {
    const size = BLOCK_FRAMES >> halvings
    this.array('re').set(re)
    this.array('im').set(im)
    this.run('forward', this.at.re, this.at.im, size)
    re.set(this.array('re').subarray(0, size))
    im.set(this.array('im').subarray(0, size))
  }

  loadPiece(samples: Float32Array, halvings: Halvings): void {
    const size = BLOCK_FRAMES >> halvings
    this.halvings = halvings
    const re = this.array('pieceRe').subarray(0, size)
    re.fill(0, samples.length)
    re.set(samples)
    this.array('pieceIm').fill(0, 0, size)
    this.run('forward', this.at.pieceRe, this.at.pieceIm, size)
  }

  filterBlocks(trackRe: Float32Array, trackIm: Float32Array): void {
    const size = BLOCK_FRAMES >> this.halvings
    this.array('trackRe').set(trackRe)
    this.array('trackIm').set(trackIm)
    const { trackRe: tr, trackIm: ti, pieceRe, pieceIm, re, im } = this.at
    this.exports.multiply(tr, ti, pieceRe, pieceIm, re, im, size)
    this.run('inverse', re, im, size)
  }

  scan(block: 0 | 1, firstChunk: number, into: ChunkValues): void {
    const name = block === 0 ? 're' : 'im'
    const { halvings } = this
    const size = BLOCK_FRAMES >> halvings
    const chunkValues = CHUNK_FRAMES >> halvings
    const chunks = Math.min(CHUNKS, into.peak.length - firstChunk)
    this.exports.scan(
      this.at[name],
      chunks,
      chunkValues,
      this.at.peaks,
      this.at.squares,
      into.peakAt ? this.at.places : 0,
    )
    const peaks = this.array('peaks')
    const squares = this.array('squares')
    const places = new Int32Array(this.buffer, this.at.places, CHUNKS)
    for (let chunk = 0; chunk < chunks; chunk++) {
      const peak = peaks[chunk] as number
      into.peak[firstChunk + chunk] = peak / size
      into.meanSquare[firstChunk + chunk] = (squares[chunk] as number) / chunkValues / size ** 2
      if (!into.peakAt) continue
      into.peakAt[firstChunk + chunk] = firstChunk * CHUNK_FRAMES + ((places[chunk] as number) << halvings)
    }
  }

  loadTemplate(samples: Float32Array): void {
    this.templateFrames = Math.ceil(samples.length / 4) * 4
    const taps = this.array('template').fill(0, samples.length, this.templateFrames)
    taps.set(samples)
  }

  answer(stretch: Float32Array): number {
    this.array('stretch').set(stretch)
    const { stretch: from, template, four } = this.at
    const sums = this.array('four')
    let best = Number.NEGATIVE_INFINITY
    for (let lag = 0; lag < ANSWER_LAGS; lag += 4) {
      this.exports.dots(from + 4 * lag, template, this.templateFrames, four)
      for (const sum of sums) best = Math.max(best, sum)
    }
    return best
  }

  answers(stretch: Float32Array, lags: number): Float32Array {
    const held = this.array('stretch')
    held.set(stretch)
    // Where the template was filled up, it meets what was there before: that must be a number.
    held.fill(0, stretch.length, stretch.length + 4)
    const { stretch: from, template, answers } = this.at
    for (let lag = 0; lag < lags; lag += 4)
      this.exports.dots(from + 4 * lag, template, this.templateFrames, answers + 4 * lag)
    return this.array('answers').subarray(0, lags)
  }

  private run(direction: 'forward' | 'inverse', re: number, im: number, size: number): void {
    const { cos, sin, cosHalf, sinHalf } = this.at
    this.exports[direction](re, im, cos, sin, cosHalf, sinHalf, size)
  }

  private array(name: ArrayName): Float32Array<ArrayBuffer> {
    return new Float32Array(this.buffer, this.at[name], ARRAYS[name])
  }
}

const ARRAYS = {
  re: BLOCK_FRAMES,
  im: BLOCK_FRAMES,
  trackRe: BLOCK_FRAMES,
  trackIm: BLOCK_FRAMES,
  pieceRe: BLOCK_FRAMES,
  pieceIm: BLOCK_FRAMES,
  cos: BLOCK_FRAMES / 2,
  sin: BLOCK_FRAMES / 2,
  cosHalf: BLOCK_FRAMES / 4,
  sinHalf: BLOCK_FRAMES / 4,
  peaks: CHUNKS,
  squares: CHUNKS,
  places: CHUNKS,
  template: PIECE_MAX_FRAMES,
  stretch: PIECE_MAX_FRAMES + 2 * ANSWER_LAGS,
  four: 4,
  answers: PIECE_MAX_FRAMES,
} as const
type ArrayName = keyof typeof ARRAYS
