import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES } from '../constants'
import type { BlockKernel, ChunkValues } from './block-kernel'
import { KERNEL_HEX } from './kernel-bytes'
import { placeReversed } from './plain-kernel'

/** The little of the WebAssembly interface that is used; the core knows no browser and no Node.js. */
interface WebAssemblyLike {
  validate(bytes: Uint8Array): boolean
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { readonly exports: object }
  Memory: new (size: { initial: number }) => { readonly buffer: ArrayBuffer }
}

interface KernelExports {
  transform(...offsets: number[]): number
  multiply(...offsets: number[]): void
  scan(...offsets: number[]): void
}

const PAGE_BYTES = 65536
/** Arrays of equal power-of-two size would share the same lines of a cache. Measured: set apart by this, a transform takes half the time. */
const APART_BYTES = 1088
const CHUNKS = BLOCK_ADVANCE / CHUNK_FRAMES
const BINS = BLOCK_FRAMES / 2 + 1

/** The kernel in SIMD WebAssembly, or null where that cannot run. */
export function wasmKernel(
  host: WebAssemblyLike | undefined = (globalThis as { WebAssembly?: WebAssemblyLike }).WebAssembly,
): BlockKernel | null {
  const bytes = Uint8Array.from(KERNEL_HEX.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16))
  if (!host?.validate(bytes)) return null
  return new WasmKernel(host, bytes)
}

/** Memory of the kernel, array after array. */
class Layout {
  bytes = 0

  /** Reserves floats on a multiple of 16 bytes and returns where they start. */
  floats(count: number): number {
    const at = this.bytes
    this.bytes += Math.ceil((4 * count) / 16) * 16 + APART_BYTES
    return at
  }
}

class WasmKernel implements BlockKernel {
  readonly name = 'wasm'
  private readonly exports: KernelExports
  private readonly buffer: ArrayBuffer
  private readonly at: Readonly<Record<ArrayName, number>>

  constructor(host: WebAssemblyLike, bytes: Uint8Array) {
    const layout = new Layout()
    this.at = Object.fromEntries(Object.entries(ARRAYS).map(([name, count]) => [name, layout.floats(count)])) as Record<
      ArrayName,
      number
    >
    const memory = new host.Memory({ initial: Math.ceil(layout.bytes / PAGE_BYTES) })
    const instance = new host.Instance(new host.Module(bytes), { env: { memory } })
    this.exports = instance.exports as unknown as KernelExports
    this.buffer = memory.buffer
    for (const [cos, sin, factor] of [
      ['cos', 'sin', 1],
      ['cos2', 'sin2', 2],
    ] as const) {
      const cosines = this.array(cos)
      const sines = this.array(sin)
      for (let k = 0; k < cosines.length; k++) {
        cosines[k] = Math.cos((2 * Math.PI * k * factor) / BLOCK_FRAMES)
        sines[k] = -Math.sin((2 * Math.PI * k * factor) / BLOCK_FRAMES)
      }
    }
  }

  loadPieces(first: Float32Array, second: Float32Array | null): void {
    const re = this.array('re').fill(0)
    const im = this.array('im').fill(0)
    placeReversed(re, first)
    if (second) placeReversed(im, second)
    this.transform()
    this.array('filterRe').set(re)
    this.array('filterIm').set(im)
  }

  filterBlock(trackRe: Float32Array, trackIm: Float32Array): void {
    this.array('trackRe').set(trackRe)
    this.array('trackIm').set(trackIm)
    const { trackRe: tr, trackIm: ti, filterRe, filterIm, re, im } = this.at
    this.exports.multiply(tr, ti, filterRe, filterIm, re, im, BLOCK_FRAMES)
    this.transform()
  }

  scan(piece: 0 | 1, firstChunk: number, into: ChunkValues): void {
    // Real and imaginary parts are exchanged for the inverse: the first piece stands in the imaginary array.
    const name = piece === 0 ? 'im' : 're'
    const values = this.array(name)
    const chunks = Math.min(CHUNKS, into.peak.length - firstChunk)
    this.exports.scan(this.at[name], chunks, CHUNK_FRAMES, this.at.peaks, this.at.squares)
    const peaks = this.array('peaks')
    const squares = this.array('squares')
    for (let chunk = 0; chunk < chunks; chunk++) {
      const peak = peaks[chunk] as number
      const at = peak > 0 ? values.indexOf(peak, chunk * CHUNK_FRAMES) : chunk * CHUNK_FRAMES
      into.peak[firstChunk + chunk] = peak / BLOCK_FRAMES
      into.peakAt[firstChunk + chunk] = firstChunk * CHUNK_FRAMES + at
      into.meanSquare[firstChunk + chunk] = (squares[chunk] as number) / CHUNK_FRAMES / BLOCK_FRAMES ** 2
    }
  }

  /** With 65 536 points there are eight stages, so the result stands where the input was. */
  private transform(): void {
    const { re, im, scratchRe, scratchIm, cos, sin, cos2, sin2 } = this.at
    this.exports.transform(re, im, scratchRe, scratchIm, cos, sin, cos2, sin2, BLOCK_FRAMES)
  }

  private array(name: ArrayName): Float32Array<ArrayBuffer> {
    return new Float32Array(this.buffer, this.at[name], ARRAYS[name])
  }
}

const ARRAYS = {
  re: BLOCK_FRAMES,
  im: BLOCK_FRAMES,
  scratchRe: BLOCK_FRAMES,
  scratchIm: BLOCK_FRAMES,
  filterRe: BLOCK_FRAMES,
  filterIm: BLOCK_FRAMES,
  cos: BLOCK_FRAMES,
  sin: BLOCK_FRAMES,
  cos2: BLOCK_FRAMES / 4,
  sin2: BLOCK_FRAMES / 4,
  trackRe: BINS,
  trackIm: BINS,
  peaks: CHUNKS,
  squares: CHUNKS,
} as const
type ArrayName = keyof typeof ARRAYS
