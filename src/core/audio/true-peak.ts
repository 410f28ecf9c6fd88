import { RESAMPLE_HEX } from './resample-bytes'
import { WASM_PAGE_BYTES, type WasmHost, wasmHost, wasmModule } from './wasm-host'

/** Fourfold oversampling by a filter of 12 taps a phase. Source: ITU-R BS.1770-4, Annex 2. */
const TAPS = 12
const PHASES = 4
/** Samples between two looks at whether interpolation is needed at all. */
const GROUP = 256
/** What the filter can make of samples that are no higher than 1. */
const GAIN_MAX = 2

/** Highest level between samples: push blocks, then read `peak` (linear). */
export class TruePeak {
  peak = 0
  private readonly history = new Float32Array(TAPS - 1)
  private readonly interpolated: Interpolator

  /** @param compiled Whether SIMD WebAssembly does it where it can; the plain loop is the reference. */
  constructor(compiled = true) {
    this.interpolated = (compiled && compiledInterpolator()) || plainInterpolator
  }

  push(samples: Float32Array): void {
    const joined = new Float32Array(this.history.length + samples.length)
    joined.set(this.history)
    joined.set(samples, this.history.length)
    for (let from = 0; from < samples.length; from += GROUP) {
      const places = Math.min(GROUP, samples.length - from)
      const group = joined.subarray(from, from + places + TAPS - 1)
      // Samples far under the present peak cannot exceed it between them.
      if (GAIN_MAX * highest(group) > this.peak) this.peak = Math.max(this.peak, this.interpolated(group, places))
    }
    this.history.set(joined.subarray(joined.length - this.history.length))
  }
}

/** Highest magnitude at and between `places` samples; the group has 11 more. */
type Interpolator = (group: Float32Array, places: number) => number

function highest(samples: Float32Array): number {
  let most = 0
  for (let i = 0; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i] as number))
  return most
}

const TABLE = Float32Array.from({ length: PHASES * TAPS }, (_, i) => tap(i % TAPS, Math.floor(i / TAPS) / PHASES))

const plainInterpolator: Interpolator = (group, places) => {
  let peak = 0
  for (let place = 0; place < places; place++) {
    for (let row = 0; row < TABLE.length; row += TAPS) {
      let sum = 0
      for (let k = 0; k < TAPS; k++) sum += (TABLE[row + k] as number) * (group[place + k] as number)
      peak = Math.max(peak, Math.abs(sum))
    }
  }
  return peak
}

/** Samples that the interpolation needs after a place before its highest level is known. */
export const TRUE_PEAK_DELAY = TAPS / 2

/** Highest magnitude at and up to one sample after a place. @param at Index of the place; there are 6 samples before it and 6 from it on. */
export function truePeakAt(samples: Float32Array, at: number): number {
  let peak = 0
  for (let row = 0; row < TABLE.length; row += TAPS) {
    let sum = 0
    for (let k = 0; k < TAPS; k++) sum += (TABLE[row + k] as number) * (samples[at - TAPS / 2 + k] as number)
    peak = Math.max(peak, Math.abs(sum))
  }
  return peak
}

/** Most places that {@link truePeakWithin} looks at. */
export const TRUE_PEAK_GROUP = GROUP

/** Highest magnitude at and between some places, 256 at most. @param at Index of the first; there are 6 samples before it and 6 from the last on. */
export function truePeakWithin(samples: Float32Array, at: number, places: number): number {
  const group = samples.subarray(at - TAPS / 2, at + places + TAPS / 2 - 1)
  return (compiledInterpolator() ?? plainInterpolator)(group, places)
}

let made: Interpolator | null | undefined

/** Made once a thread: nothing of a call stays in its memory. */
function compiledInterpolator(): Interpolator | null {
  if (made !== undefined) return made
  const host = wasmHost()
  const module = wasmModule(host, RESAMPLE_HEX)
  made = host && module ? interpolatorIn(host, module) : null
  return made
}

function interpolatorIn(host: WasmHost, module: object): Interpolator {
  const memory = new host.Memory({ initial: Math.ceil((4 * (TABLE.length + GROUP + 2 * TAPS)) / WASM_PAGE_BYTES) })
  const { interpolatedPeak } = new host.Instance(module, { env: { memory } }).exports as {
    interpolatedPeak(...values: number[]): number
  }
  new Float32Array(memory.buffer, 0, TABLE.length).set(TABLE)
  const inputAt = 4 * TABLE.length
  const input = new Float32Array(memory.buffer, inputAt, GROUP + 2 * TAPS)
  return (group, places) => {
    input.set(group)
    const fours = places & ~3
    const most = interpolatedPeak(inputAt, fours, 0, TAPS, PHASES)
    return fours === places ? most : Math.max(most, plainInterpolator(group.subarray(fours), places - fours))
  }
}

function tap(k: number, fraction: number): number {
  const x = k - TAPS / 2 + fraction
  const sinc = Math.abs(x) < 1e-9 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)
  return sinc * Math.cos((Math.PI * x) / (TAPS + 1)) ** 2
}
