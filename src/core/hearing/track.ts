/** Full scale of the 16-bit companded samples: values up to ±2 fit, since decoders may overshoot full scale. */
const COMPAND_SCALE = 32767 / Math.SQRT2

/**
 * The sound track of a video as hearing keeps it while it works: at the hearing rate, middle (mean of left and right) and side
 * (half their difference), companded to 16 bits. The arrays may lie in shared memory.
 */
export class Track {
  /** @param frames How many frames are filled; the arrays may be longer. @param side Null for a mono track. */
  constructor(
    readonly mid: Int16Array,
    readonly side: Int16Array | null,
    readonly frames: number,
  ) {}

  /** Middle from `from` (may be negative) to `to`, exclusive; outside the track is silence. */
  midSamples(from: number, to: number): Float32Array {
    return expanded(this.mid, this.frames, from, to)
  }

  /** The same into an array, as many as it holds: where little is read often, arrays of its own would be many. */
  midInto(out: Float32Array, from: number): void {
    expandInto(out, this.mid, this.frames, from)
  }

  /** Side, likewise; silence for a mono track. */
  sideSamples(from: number, to: number): Float32Array {
    return this.side ? expanded(this.side, this.frames, from, to) : new Float32Array(to - from)
  }
}

/**
 * Square-root companding: the error stays 60 to 80 dB under the sample, also in a quiet passage that is to be whitened.
 *
 * @param into Takes the codes from `at` on. Modified.
 */
export function compand(samples: Float32Array, into: Int16Array, at: number): void {
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i] as number
    const size = value < 0 ? -value : value
    const code = (Math.sqrt(Math.min(2, size)) * COMPAND_SCALE + 0.5) | 0
    into[at + i] = value < 0 ? -code : code
  }
}

/** A track made from samples at the hearing rate. */
export function trackOf(mid: Float32Array, side: Float32Array | null = null): Track {
  const midCodes = new Int16Array(mid.length)
  compand(mid, midCodes, 0)
  const sideCodes = side ? new Int16Array(side.length) : null
  if (side && sideCodes) compand(side, sideCodes, 0)
  return new Track(midCodes, sideCodes, mid.length)
}

function expanded(codes: Int16Array, frames: number, from: number, to: number): Float32Array {
  const out = new Float32Array(to - from)
  expandInto(out, codes, frames, from)
  return out
}

function expandInto(out: Float32Array, codes: Int16Array, frames: number, from: number): void {
  const first = Math.min(out.length, Math.max(0, -from))
  const end = Math.max(first, Math.min(out.length, frames - from))
  const factor = 1 / COMPAND_SCALE
  out.fill(0, 0, first)
  out.fill(0, end)
  for (let i = first; i < end; i++) {
    const root = (codes[from + i] as number) * factor
    out[i] = root < 0 ? -root * root : root * root
  }
}
