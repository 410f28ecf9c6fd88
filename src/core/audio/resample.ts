import { RESAMPLE_HEX } from './resample-bytes'
import { WASM_PAGE_BYTES, type WasmHost, wasmHost, wasmModule } from './wasm-host'

/** Half the width of the low-pass kernel, in zero crossings: 16 keeps the pass band flat to 0.9 of Nyquist. */
const ZERO_CROSSINGS = 16
/** Kaiser shape for about 80 dB stop band. Source: Kaiser's formula, beta = 0.1102 (A - 8.7). */
const KAISER_BETA = 7.86
/** The pass band ends here, as a fraction of the lower Nyquist frequency; the rest is transition. */
const CUTOFF_FRACTION = 0.94

/** Input frames that the compiled loop takes at once. */
const BATCH_FRAMES = 32768

/** What a resampler is set up with. */
export interface ResamplerOptions {
  /** Rate of the input, 4 000 to 384 000. */
  readonly fromHz: number
  /** Rate of the output, 4 000 to 384 000. */
  readonly toHz: number
}

/**
 * Streaming band-limited resampler of one channel: push blocks of any length, read what they give.
 *
 * Zero delay: output sample 0 stands at input sample 0. Windowed-sinc polyphase after J. O. Smith,
 * Digital Audio Resampling Home Page, 2002.
 */
export class Resampler {
  private readonly up: number
  private readonly down: number
  private readonly half: number
  private readonly phases: Float32Array[]
  private tail: Float32Array
  /** Input index of tail[0]. */
  private tailStart: number
  private nextOutput = 0
  private inputLength = 0
  private readonly compiled: CompiledLoop | null

  /** @param compiled Whether the inner loop runs in SIMD WebAssembly where that is there; the plain one is the reference. */
  constructor({ fromHz, toHz }: ResamplerOptions, compiled = true) {
    for (const rate of [fromHz, toHz]) {
      if (!Number.isInteger(rate) || rate < 4000 || rate > 384000)
        throw new RangeError(`sample rate ${rate} Hz is outside 4 000 to 384 000`)
    }
    const divisor = gcd(fromHz, toHz)
    this.up = toHz / divisor
    this.down = fromHz / divisor
    const cutoff = (Math.min(fromHz, toHz) / fromHz) * CUTOFF_FRACTION
    this.half = 2 * Math.ceil(ZERO_CROSSINGS / cutoff / 2)
    this.phases = Array.from({ length: this.up }, (_, phase) => kernel(phase / this.up, cutoff, this.half))
    this.tail = new Float32Array(this.half)
    this.tailStart = -this.half
    this.compiled = compiled ? compiledLoop(this.phases, this.down) : null
  }

  /** Takes a block and returns the output that is complete so far (may be empty). The block is not held on to or changed. */
  push(block: Float32Array): Float32Array {
    this.inputLength += block.length
    const joined = new Float32Array(this.tail.length + block.length)
    joined.set(this.tail)
    joined.set(block, this.tail.length)
    return this.consume(joined)
  }

  /** Returns what is left: in all, round(input frames x toHz / fromHz) frames come out. Call once, at the end. */
  flush(): Float32Array {
    const wanted = Math.round((this.inputLength * this.up) / this.down)
    const joined = new Float32Array(this.tail.length + this.half + this.down + 2)
    joined.set(this.tail)
    return this.consume(joined, wanted)
  }

  private consume(input: Float32Array, limit = Number.POSITIVE_INFINITY): Float32Array {
    const { up, down, half } = this
    const end = this.tailStart + input.length
    // The last output whose last tap is there: floor(n x down / up) + half < end.
    const complete = Math.max(0, Math.ceil(((end - half) * up) / down))
    const count = Math.max(0, Math.min(limit, complete) - this.nextOutput)
    const out = new Float32Array(count)
    const position = this.nextOutput * down
    const first = Math.floor(position / up) - half + 1 - this.tailStart
    if (this.compiled) this.compiled.run(input, first, position % up, out)
    else this.plainRun(input, out)
    this.nextOutput += count
    const keepFrom = Math.max(0, Math.floor((this.nextOutput * down) / up) - half + 1 - this.tailStart)
    this.tail = input.slice(Math.min(keepFrom, input.length))
    this.tailStart += Math.min(keepFrom, input.length)
    return out
  }

  private plainRun(input: Float32Array, out: Float32Array): void {
    const { up, down, half } = this
    for (let n = 0; n < out.length; n++) {
      const position = (this.nextOutput + n) * down
      const taps = this.phases[position % up] as Float32Array
      const first = Math.floor(position / up) - half + 1 - this.tailStart
      let sum = 0
      for (let k = 0; k < taps.length; k++) sum += (taps[k] as number) * (input[first + k] as number)
      out[n] = sum
    }
  }
}

/** Resamples a whole clip of one channel; equal rates give a copy. */
export function resampled(samples: Float32Array, options: ResamplerOptions): Float32Array {
  if (options.fromHz === options.toHz) return samples.slice()
  const resampler = new Resampler(options)
  const head = resampler.push(samples)
  const rest = resampler.flush()
  const all = new Float32Array(head.length + rest.length)
  all.set(head)
  all.set(rest, head.length)
  return all
}

/** Writes to `out` the sums of `taps` over `input`, from one place after the other; `input` has as many values more as there are taps, less one. */
export type Fir = (input: Float32Array, taps: Float32Array, out: Float32Array) => void

let madeFir: Fir | null | undefined

/** The one filter of this thread in SIMD WebAssembly, for numbers of taps that are multiples of 4; null where that cannot run. */
export function compiledFir(): Fir | null {
  if (madeFir === undefined) madeFir = firIn(wasmHost())
  return madeFir
}

/** Most taps that the compiled filter takes. */
export const FIR_TAPS_MAX = 256

function firIn(host: WasmHost | undefined): Fir | null {
  const module = wasmModule(host, RESAMPLE_HEX)
  if (!host || !module) return null
  const tapsAt = 4 * BATCH_FRAMES
  const outAt = tapsAt + 4 * FIR_TAPS_MAX
  const memory = new host.Memory({ initial: Math.ceil((outAt + 4 * BATCH_FRAMES) / WASM_PAGE_BYTES) })
  const { polyphase } = new host.Instance(module, { env: { memory } }).exports as {
    polyphase(...values: number[]): void
  }
  const inputView = new Float32Array(memory.buffer, 0, BATCH_FRAMES)
  const tapsView = new Float32Array(memory.buffer, tapsAt, FIR_TAPS_MAX)
  return (input, taps, out) => {
    tapsView.set(taps)
    const most = BATCH_FRAMES - taps.length + 1
    for (let done = 0; done < out.length; done += most) {
      const count = Math.min(most, out.length - done)
      inputView.set(input.subarray(done, done + count + taps.length - 1))
      polyphase(0, tapsAt, taps.length, 1, 1, 0, count, outAt)
      out.set(new Float32Array(memory.buffer, outAt, count), done)
    }
  }
}

interface CompiledLoop {
  /** Fills `out`, of which the first output has `phase` and its first tap at `input[first]`. */
  run(input: Float32Array, first: number, phase: number, out: Float32Array): void
}

/** The inner loop in SIMD WebAssembly, or null where that cannot run. Owns its memory. */
function compiledLoop(phases: readonly Float32Array[], down: number): CompiledLoop | null {
  const host = wasmHost()
  const up = phases.length
  const tapCount = (phases[0] as Float32Array).length
  const tapsAt = 4 * BATCH_FRAMES
  const outAt = tapsAt + 4 * up * tapCount
  // At most so many outputs need no more than a batch of input.
  const batch = Math.max(1, Math.floor(((BATCH_FRAMES - tapCount - 1) * up) / down))
  const module = wasmModule(host, RESAMPLE_HEX)
  if (!host || !module) return null
  const memory = new host.Memory({ initial: Math.ceil((outAt + 4 * batch) / WASM_PAGE_BYTES) })
  const { polyphase } = new host.Instance(module, { env: { memory } }).exports as {
    polyphase(...values: number[]): void
  }
  const taps = new Float32Array(memory.buffer, tapsAt, up * tapCount)
  phases.forEach((row, phase) => {
    taps.set(row, phase * tapCount)
  })
  const inputView = new Float32Array(memory.buffer, 0, BATCH_FRAMES)
  return {
    run(input, first, phase, out) {
      for (let done = 0; done < out.length; done += batch) {
        const count = Math.min(batch, out.length - done)
        const position = phase + done * down
        const at = first + Math.floor(position / up)
        inputView.set(input.subarray(at, at + BATCH_FRAMES))
        polyphase(0, tapsAt, tapCount, up, down, position % up, count, outAt)
        out.set(new Float32Array(memory.buffer, outAt, count), done)
      }
    },
  }
}

function kernel(fraction: number, cutoff: number, half: number): Float32Array {
  const taps = new Float32Array(2 * half)
  let sum = 0
  for (let k = 0; k < taps.length; k++) {
    const x = k - half + 1 - fraction
    const angle = Math.PI * x * cutoff
    const sinc = Math.abs(angle) < 1e-9 ? 1 : Math.sin(angle) / angle
    const value = sinc * kaiser(x / half)
    taps[k] = value
    sum += value
  }
  for (let k = 0; k < taps.length; k++) taps[k] = (taps[k] as number) / sum
  return taps
}

function kaiser(x: number): number {
  return Math.abs(x) >= 1 ? 0 : besselI0(KAISER_BETA * Math.sqrt(1 - x * x)) / besselI0(KAISER_BETA)
}

function besselI0(x: number): number {
  let sum = 1
  let term = 1
  for (let k = 1; k < 40 && term > sum * 1e-12; k++) {
    term *= (x / (2 * k)) ** 2
    sum += term
  }
  return sum
}

function gcd(a: number, b: number): number {
  return b === 0 ? a : gcd(b, a % b)
}
