/** Frames that one pair of the finest level stands for. */
export const PEAK_FRAMES = 64

/** Lowest and highest sample of stretches of a sound, at several levels. */
export interface Peaks {
  readonly sampleRateHz: number
  readonly lengthFrames: number
  /** Level n has a pair (lowest, highest, -127 to 127) for each {@link PEAK_FRAMES} times 2^n frames. */
  readonly levels: readonly Int8Array[]
}

/** A level with fewer pairs than this has no coarser one. */
const COARSEST_PAIRS = 512
const GROW_PAIRS = 65_536

/** Gathers the peaks of a sound that comes in blocks. */
export class PeakMeter {
  private pairs = new Int8Array(2 * GROW_PAIRS)
  private count = 0
  private frames = 0
  private low = 1
  private high = -1
  private inPair = 0

  /** @param channels 1 or 2 arrays of equal length, full scale ±1: the wider of both counts. Not modified. */
  push(channels: readonly Float32Array[]): void {
    const [left, right = left] = channels as readonly [Float32Array, Float32Array?]
    for (let i = 0; i < left.length; i++) {
      const a = left[i] as number
      const b = right[i] as number
      if (a < this.low) this.low = a
      if (b < this.low) this.low = b
      if (a > this.high) this.high = a
      if (b > this.high) this.high = b
      if (++this.inPair === PEAK_FRAMES) this.endPair()
    }
    this.frames += left.length
  }

  /** @param sampleRateHz Of what was pushed. */
  result(sampleRateHz: number): Peaks {
    if (this.inPair > 0) this.endPair()
    const levels: Int8Array[] = [this.pairs.slice(0, 2 * this.count)]
    for (let finest = levels[0] as Int8Array; finest.length > 2 * COARSEST_PAIRS; ) {
      finest = coarser(finest)
      levels.push(finest)
    }
    return { sampleRateHz, lengthFrames: this.frames, levels }
  }

  private endPair(): void {
    if (2 * this.count === this.pairs.length) {
      const grown = new Int8Array(2 * this.pairs.length)
      grown.set(this.pairs)
      this.pairs = grown
    }
    // Away from zero, so that what is soft still shows.
    this.pairs[2 * this.count] = Math.max(-127, Math.floor(127 * Math.max(-1, this.low)))
    this.pairs[2 * this.count + 1] = Math.min(127, Math.ceil(127 * Math.min(1, this.high)))
    this.count++
    this.inPair = 0
    this.low = 1
    this.high = -1
  }
}

/** Pairs of twice the length. */
export function coarser(pairs: Int8Array): Int8Array {
  const count = Math.ceil(pairs.length / 4)
  const out = new Int8Array(2 * count)
  for (let i = 0; i < count; i++) {
    const at = 4 * i
    out[2 * i] = Math.min(pairs[at] as number, pairs[at + 2] ?? (pairs[at] as number))
    out[2 * i + 1] = Math.max(pairs[at + 1] as number, pairs[at + 3] ?? (pairs[at + 1] as number))
  }
  return out
}

/** The coarsest level that still has a pair for each pixel. @param framesPerPx Over 0. @returns 0 where none is fine enough. */
export function peakLevelFor(framesPerPx: number, levelCount: number): number {
  return Math.max(0, Math.min(levelCount - 1, Math.floor(Math.log2(framesPerPx / PEAK_FRAMES))))
}
