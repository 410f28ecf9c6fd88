import { FFT_HEX } from './fft-bytes'
import { frameInto } from './frame-into'
import { WASM_PAGE_BYTES, type WasmHost, WasmLayout, wasmHost, wasmModule } from './wasm-host'

/** Sizes that the compiled transform takes: powers of two in this range. */
const SIZE_MIN = 64
const SIZE_MAX = 1 << 18

/** A complex transform of one fixed size in SIMD WebAssembly, in natural order. */
export interface CompiledFft {
  /** Transforms in place, unscaled; both arrays have as many elements as the size. */
  forward(re: Float32Array, im: Float32Array): void
  /** As `Fft.forwardFrames`. */
  forwardFrames(re: Float32Array, im: Float32Array, samples: Float32Array, frames: TwoFrames): void
  /** As `Fft.framePowers`. */
  framePowers(first: Float32Array, second: Float32Array, samples: Float32Array, frames: TwoFrames): void
}

/** Two frames of a sound under a window as long as the transform. A frame may begin before the sound and end behind it: there is silence. */
export interface TwoFrames {
  readonly first: number
  /** Null for silence. */
  readonly second: number | null
  readonly window: Float32Array
}

const made = new Map<number, CompiledFft | null>()

/**
 * The compiled transform of a size, or null where it cannot run. Made once a thread and size, since its tables and memory outlast a
 * call; nothing of a call stays in it.
 */
export function compiledFft(size: number): CompiledFft | null {
  if (size < SIZE_MIN || size > SIZE_MAX) return null
  const known = made.get(size)
  if (known !== undefined) return known
  const host = wasmHost()
  const module = wasmModule(host, FFT_HEX)
  const fresh = host && module ? new WasmFft(host, module, size) : null
  made.set(size, fresh)
  return fresh
}

class WasmFft implements CompiledFft {
  private readonly re: Float32Array
  private readonly im: Float32Array
  private readonly naturalRe: Float32Array
  private readonly naturalIm: Float32Array
  private readonly window: Float32Array
  private readonly firstPowers: Float32Array
  private readonly secondPowers: Float32Array
  private readonly run: () => void
  private readonly runWindow: () => void
  private readonly runPowers: () => void

  constructor(host: WasmHost, module: object, size: number) {
    const layout = new WasmLayout()
    const [re, im, naturalRe, naturalIm, order] = Array.from({ length: 5 }, () => layout.floats(size)) as FiveOffsets
    const [cos, sin, cosHalf, sinHalf] = Array.from({ length: 4 }, () => layout.floats(size / 2)) as FourOffsets
    const [window, firstPowers, secondPowers] = [size, size / 2 + 1, size / 2 + 1].map((count) =>
      layout.floats(count),
    ) as ThreeOffsets
    const memory = new host.Memory({ initial: Math.ceil(layout.bytes / WASM_PAGE_BYTES) })
    const { forward, reorder, underWindow, powersOfTwo } = new host.Instance(module, { env: { memory } })
      .exports as Record<'forward' | 'reorder' | 'underWindow' | 'powersOfTwo', (...values: number[]) => void>
    const array = (at: number, length: number): Float32Array<ArrayBuffer> => new Float32Array(memory.buffer, at, length)
    const table = (at: number): Float32Array => array(at, size / 2)
    fillTwiddles({ cos: table(cos), sin: table(sin), cosHalf: table(cosHalf), sinHalf: table(sinHalf) }, size)
    this.re = array(re, size)
    this.im = array(im, size)
    this.naturalRe = array(naturalRe, size)
    this.naturalIm = array(naturalIm, size)
    this.window = array(window, size)
    this.firstPowers = array(firstPowers, size / 2 + 1)
    this.secondPowers = array(secondPowers, size / 2 + 1)
    const transform = (): void => forward(re, im, cos, sin, cosHalf, sinHalf, size)
    // An impulse at place 1 turns once around over the whole spectrum: its angle tells which value stands where.
    this.re[1] = 1
    transform()
    const places = new Uint32Array(memory.buffer, order, size)
    for (let at = 0; at < size; at++) {
      const turn = -Math.atan2(this.im[at] as number, this.re[at] as number) / (2 * Math.PI)
      places[(Math.round(turn * size) + size) % size] = at
    }
    this.run = () => {
      transform()
      reorder(re, naturalRe, order, size)
      reorder(im, naturalIm, order, size)
    }
    this.runWindow = () => {
      underWindow(re, window, size)
      underWindow(im, window, size)
    }
    this.runPowers = () => {
      transform()
      powersOfTwo(re, im, order, firstPowers, secondPowers, size)
    }
  }

  forward(re: Float32Array, im: Float32Array): void {
    this.re.set(re)
    this.im.set(im)
    this.run()
    this.give(re, im)
  }

  forwardFrames(re: Float32Array, im: Float32Array, samples: Float32Array, frames: TwoFrames): void {
    this.load(samples, frames)
    this.run()
    this.give(re, im)
  }

  framePowers(first: Float32Array, second: Float32Array, samples: Float32Array, frames: TwoFrames): void {
    this.load(samples, frames)
    this.runPowers()
    first.set(this.firstPowers)
    second.set(this.secondPowers)
  }

  private give(re: Float32Array, im: Float32Array): void {
    re.set(this.naturalRe)
    im.set(this.naturalIm)
  }

  private load(samples: Float32Array, { first, second, window }: TwoFrames): void {
    frameInto(this.re, samples, first)
    if (second === null) this.im.fill(0)
    else frameInto(this.im, samples, second)
    this.window.set(window)
    this.runWindow()
  }
}

type ThreeOffsets = [number, number, number]
type FiveOffsets = [number, number, number, number, number]
type FourOffsets = [number, number, number, number]

/**
 * Fills the tables that the compiled transforms of a size need.
 *
 * @param tables Of `size / 2` values each, the last two of as many as the transform of twice a power of four needs. Filled.
 */
export function fillTwiddles(
  { cos, sin, cosHalf, sinHalf }: Readonly<Record<'cos' | 'sin' | 'cosHalf' | 'sinHalf', Float32Array>>,
  size: number,
): void {
  const isPowerOfFour = (size & 0x55555555) !== 0
  const whole = isPowerOfFour ? size : size / 2
  for (let length = 16; length <= whole; length *= 4) turnsOf(cos, sin, length, length / 4, length / 4)
  if (!isPowerOfFour) turnsOf(cosHalf, sinHalf, size, 0, size / 2)
}

/** Writes exp(-2 pi i j / length), j < count, from index `at` on. */
function turnsOf(cos: Float32Array, sin: Float32Array, length: number, at: number, count: number): void {
  for (let j = 0; j < count; j++) {
    cos[at + j] = Math.cos((2 * Math.PI * j) / length)
    sin[at + j] = -Math.sin((2 * Math.PI * j) / length)
  }
}
