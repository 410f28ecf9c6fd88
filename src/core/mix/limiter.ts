import { TRUE_PEAK_DELAY, TRUE_PEAK_GROUP, truePeakAt, truePeakWithin } from '../audio'
import { gainOfDb } from './gains'

/** The gain begins to go down so long before a peak, s. */
const LOOK_AHEAD_S = 0.003
/** The gain comes up again with this time constant, s. */
const RELEASE_S = 0.08
/** Nearer to nothing taken than this it is nothing: -120 dB. */
const RELEASED = 1 - 1e-6
/** Room for what the moving gain itself adds between samples, dB. */
const MARGIN_DB = 0.05
/** What interpolation can make of samples that are no higher than 1. */
const INTERPOLATION_GAIN_MAX = 2
/** What is this close under the ceiling is looked at sample by sample: the quick look rounds a little otherwise. */
const NEARLY = 0.999

/**
 * Keeps a stereo signal under a ceiling also between samples, with one gain for both sides. What comes out is later than what went in by
 * `latencyFrames`. One is for one signal.
 *
 * True peaks after ITU-R BS.1770-4, Annex 2; a minimum over the look-ahead, averaged over as much, is never over what a peak needs.
 */
export class TruePeakLimiter {
  readonly latencyFrames: number
  /** The most that was taken so far, dB, 0 or less. */
  get mostReducedDb(): number {
    return 20 * Math.log10(this.lowest)
  }

  private readonly ceiling: number
  private readonly lookAhead: number
  private readonly releaseStep: number
  /** Samples of both sides that are still to come out, oldest first, with those that the interpolation looks back at. */
  private left: Float32Array
  private right: Float32Array
  /** Gains that peaks need, as a queue of falling minima: frame and gain. */
  private readonly minima: { frame: number; gain: number }[] = []
  private readonly window: Float64Array
  private windowSum: number
  private released = 1
  /** Samples since anything was taken: a limiter begins at rest. */
  private untouched = Number.POSITIVE_INFINITY
  private frame = 0
  private lowest = 1

  constructor({ ceilingDbtp, sampleRateHz }: { readonly ceilingDbtp: number; readonly sampleRateHz: number }) {
    this.ceiling = gainOfDb(ceilingDbtp - MARGIN_DB)
    this.lookAhead = Math.max(8, Math.round(LOOK_AHEAD_S * sampleRateHz))
    this.latencyFrames = this.lookAhead + TRUE_PEAK_DELAY
    this.releaseStep = 1 - Math.exp(-1 / (RELEASE_S * sampleRateHz))
    const held = this.latencyFrames + TRUE_PEAK_DELAY
    this.left = new Float32Array(held)
    this.right = new Float32Array(held)
    this.window = new Float64Array(this.lookAhead).fill(1)
    this.windowSum = this.lookAhead
  }

  /** Limits a block in place. Both arrays are equally long. */
  process(left: Float32Array, right: Float32Array): void {
    const held = this.left.length
    const [allLeft, allRight] = [joined(this.left, left), joined(this.right, right)]
    for (let from = 0; from < left.length; from += TRUE_PEAK_GROUP) {
      const end = Math.min(left.length, from + TRUE_PEAK_GROUP)
      const isOver = this.isOver(allLeft, allRight, held + from - TRUE_PEAK_DELAY, end - from)
      if (!isOver && this.isAtRest) {
        const first = held + from - this.latencyFrames
        left.set(allLeft.subarray(first, first + end - from), from)
        right.set(allRight.subarray(first, first + end - from), from)
        this.frame += end - from
        continue
      }
      for (let n = from; n < end; n++) {
        // The peak of the sample before the newest six.
        const at = held + n - TRUE_PEAK_DELAY
        const gain = this.nextGain(isOver ? this.neededGain(allLeft, allRight, at) : 1)
        left[n] = (allLeft[at - this.lookAhead] as number) * gain
        right[n] = (allRight[at - this.lookAhead] as number) * gain
      }
    }
    this.left = allLeft.slice(left.length)
    this.right = allRight.slice(left.length)
  }

  /** Whether nothing is taken, nor was within the window: a sample that needs nothing then goes through as it is, and changes nothing here. */
  private get isAtRest(): boolean {
    return this.untouched >= this.lookAhead
  }

  /** Whether any of some samples may have a peak over the ceiling. */
  private isOver(left: Float32Array, right: Float32Array, at: number, places: number): boolean {
    let near = 0
    for (let k = at - TRUE_PEAK_DELAY; k < at + places + TRUE_PEAK_DELAY; k++)
      near = Math.max(near, Math.abs(left[k] ?? 0), Math.abs(right[k] ?? 0))
    if (INTERPOLATION_GAIN_MAX * near <= this.ceiling) return false
    const peak = Math.max(truePeakWithin(left, at, places), truePeakWithin(right, at, places))
    return peak > this.ceiling * NEARLY
  }

  private neededGain(left: Float32Array, right: Float32Array, at: number): number {
    let near = 0
    for (let k = at - TRUE_PEAK_DELAY; k < at + TRUE_PEAK_DELAY; k++)
      near = Math.max(near, Math.abs(left[k] as number), Math.abs(right[k] as number))
    if (INTERPOLATION_GAIN_MAX * near <= this.ceiling) return 1
    const peak = Math.max(truePeakAt(left, at), truePeakAt(right, at))
    return peak > this.ceiling ? this.ceiling / peak : 1
  }

  /** @returns The gain for the sample that comes out when one with this need goes in. */
  private nextGain(needed: number): number {
    const { minima, lookAhead, window } = this
    while (minima.length > 0 && (minima[minima.length - 1] as { gain: number }).gain >= needed) minima.pop()
    minima.push({ frame: this.frame, gain: needed })
    if ((minima[0] as { frame: number }).frame < this.frame - lookAhead) minima.shift()
    const least = (minima[0] as { gain: number }).gain
    this.released = least < this.released ? least : this.released + (least - this.released) * this.releaseStep
    if (this.released > RELEASED) this.released = 1
    this.untouched = this.released === 1 ? this.untouched + 1 : 0
    const slot = this.frame % lookAhead
    this.windowSum += this.released - (window[slot] as number)
    window[slot] = this.released
    this.frame++
    // Sums drift by rounding: made anew once a turn.
    if (this.isAtRest) this.windowSum = lookAhead
    else if (slot === lookAhead - 1) this.windowSum = window.reduce((sum, value) => sum + value, 0)
    const gain = Math.min(1, this.windowSum / lookAhead)
    this.lowest = Math.min(this.lowest, gain)
    return gain
  }
}

function joined(a: Float32Array, b: Float32Array): Float32Array {
  const both = new Float32Array(a.length + b.length)
  both.set(a)
  both.set(b, a.length)
  return both
}
