import { compiledFir, FIR_TAPS_MAX, type Fir } from '../audio'
import type { PcmSource } from './pcm'

/** Half the width of the low-pass kernel, in zero crossings. */
export const ZERO_CROSSINGS = 24
/** Kaiser shape for a stop band of over 95 dB. Source: Kaiser's formula, beta = 0.1102 (A - 8.7). */
const KAISER_BETA = 9.6
/** The pass band ends here, as a fraction of the lower Nyquist frequency. */
const CUTOFF_FRACTION = 0.95
/** Rows of taps for places between two frames; straight lines from one to the next are off by less than -100 dB. */
const PHASES = 512
/** A position this close to a whole frame is one: rounding of times. */
const WHOLE_WITHIN = 1e-6

/** The windowed sinc at a distance, in zero crossings; 0 beyond the width. Source: J. O. Smith, Digital Audio Resampling Home Page, 2002. */
export function windowedSinc(distance: number): number {
  const x = Math.abs(distance)
  if (x >= ZERO_CROSSINGS) return 0
  const angle = Math.PI * x
  const sinc = x < 1e-12 ? 1 : Math.sin(angle) / angle
  return (sinc * besselI0(KAISER_BETA * Math.sqrt(1 - (x / ZERO_CROSSINGS) ** 2))) / besselI0(KAISER_BETA)
}

/** How the kernel is drawn out for a step: wider where more is read than played, so that nothing folds down. */
export function kernelScale(step: number): number {
  return CUTOFF_FRACTION * Math.min(1, 1 / step)
}

/** Taps for each place between two frames of the source, one row after the other; one row more than places. */
interface TapRows {
  readonly rows: Float64Array
  /** Taps on each side. */
  readonly half: number
}

function tapRows(scale: number): TapRows {
  const half = Math.ceil(ZERO_CROSSINGS / scale)
  const rows = new Float64Array((PHASES + 1) * 2 * half)
  for (let phase = 0; phase <= PHASES; phase++)
    for (let k = 0; k < 2 * half; k++)
      rows[phase * 2 * half + k] = scale * windowedSinc((phase / PHASES + half - 1 - k) * scale)
  return { rows, half }
}

let atOwnRate: TapRows | null = null

/** Rows for a scale; those for slower and equal speeds are made once for all. */
function rowsFor(scale: number): TapRows {
  if (scale !== CUTOFF_FRACTION) return tapRows(scale)
  atOwnRate ??= tapRows(scale)
  return atOwnRate
}

/** Reads a source at any speed, band-limited. Keeps room to read into, so one is for one thread and one source. */
export class SincReader {
  private readonly fir: Fir | null
  private window = new Float32Array(0)
  private oneSet = new Float32Array(0)
  private taps: TapRows & { readonly scale: number } = { rows: new Float64Array(0), half: 0, scale: 0 }

  /** @param compiled Whether SIMD WebAssembly does it where it can; the plain loop is the reference. */
  constructor(
    private readonly source: PcmSource,
    compiled = true,
  ) {
    this.fir = compiled ? compiledFir() : null
  }

  /**
   * Writes a channel from a place on, so many frames of the source for each of the output.
   *
   * @param position Frame of the source for the first sample; any number. @param step Frames of the source to the next; not 0, negative backwards.
   */
  read(
    channel: number,
    { position, step }: { readonly position: number; readonly step: number },
    out: Float32Array,
  ): void {
    const whole = Math.round(position)
    if (Math.abs(step) === 1 && Math.abs(position - whole) < WHOLE_WITHIN) {
      this.copy(channel, whole, step, out)
      return
    }
    const scale = kernelScale(Math.abs(step))
    if (this.taps.scale !== scale) this.taps = { ...rowsFor(scale), scale }
    const { rows, half } = this.taps
    const count = 2 * half
    const last = position + step * (out.length - 1)
    const first = Math.floor(Math.min(position, last)) - half + 1
    const length = Math.floor(Math.max(position, last)) + half + 2 - first
    if (this.window.length < length) this.window = new Float32Array(2 * length)
    const window = this.window
    this.source.read(channel, first, window.subarray(0, length))
    if (Math.abs(step) === 1) {
      this.shifted(position - first, step, out)
      return
    }
    for (let n = 0; n < out.length; n++) {
      const at = position + step * n - first
      const base = Math.floor(at)
      const place = (at - base) * PHASES
      const phase = Math.floor(place)
      const from = base - half + 1
      const row = phase * count
      let sum = 0
      let next = 0
      for (let k = 0; k < count; k++) {
        const value = window[from + k] as number
        sum += value * (rows[row + k] as number)
        next += value * (rows[row + count + k] as number)
      }
      out[n] = sum + (next - sum) * (place - phase)
    }
  }

  /** At its own speed all samples lie at the same place between two frames: one set of taps does for all. */
  private shifted(position: number, step: number, out: Float32Array): void {
    const { window } = this
    const { rows, half } = this.taps
    const count = 2 * half
    const base = Math.floor(position)
    const place = (position - base) * PHASES
    const row = Math.floor(place) * count
    const share = place - Math.floor(place)
    if (this.oneSet.length !== count) this.oneSet = new Float32Array(count)
    const taps = this.oneSet
    for (let k = 0; k < count; k++) {
      const here = rows[row + k] as number
      taps[k] = here + ((rows[row + count + k] as number) - here) * share
    }
    // Backwards is forwards, turned round.
    const first = (step > 0 ? base : base - out.length + 1) - half + 1
    const input = window.subarray(first, first + out.length + count - 1)
    ;((count % 4 === 0 && count <= FIR_TAPS_MAX && this.fir) || plainFir)(input, taps, out)
    if (step < 0) out.reverse()
  }

  private copy(channel: number, at: number, step: number, out: Float32Array): void {
    this.source.read(channel, step > 0 ? at : at - out.length + 1, out)
    if (step < 0) out.reverse()
  }
}

const plainFir: Fir = (input, taps, out) => {
  for (let n = 0; n < out.length; n++) {
    let sum = 0
    for (let k = 0; k < taps.length; k++) sum += (input[n + k] as number) * (taps[k] as number)
    out[n] = sum
  }
}

function besselI0(x: number): number {
  let sum = 1
  let term = 1
  for (let k = 1; k < 60 && term > sum * 1e-15; k++) {
    term *= (x / (2 * k)) ** 2
    sum += term
  }
  return sum
}
