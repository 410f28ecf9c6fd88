/** Full scale of the 16-bit companded samples: values up to ±2 fit, since decoders may overshoot full scale. */
const COMPAND_SCALE = 32767 / Math.SQRT2

/** Loudest and quietest size of the side that has a code, dB of full scale; what is quieter is silence. */
const SIDE_MAX_DB = 20 * Math.log10(2)
const SIDE_MIN_DB = -90
const SIDE_CODES = 127
const SIDE_STEP_DB = (SIDE_MAX_DB - SIDE_MIN_DB) / (SIDE_CODES - 1)
/** Samples of the side, from code -128 on. */
const SIDE_SAMPLES = Float32Array.from({ length: 256 }, (_, at) => {
  const code = at - 128
  return code === 0 ? 0 : Math.sign(code) * 10 ** ((SIDE_MAX_DB - (SIDE_CODES - Math.abs(code)) * SIDE_STEP_DB) / 20)
})

/**
 * The sound track of a video as hearing keeps it while it works: at the hearing rate, middle (mean of left and right) companded to 16 bits, and side
 * (half their difference) to 8: it is asked how strong what was found in the middle is there, and searched where left and right oppose each other. The arrays may
 * lie in shared memory.
 */
export class Track {
  /** @param frames How many frames are filled; the arrays may be longer. @param side Null for a mono track. */
  constructor(
    readonly mid: Int16Array,
    readonly side: Int8Array | null,
    readonly frames: number,
  ) {}

  /** Middle from `from` (may be negative) to `to`, exclusive; outside the track is silence. */
  midSamples(from: number, to: number): Float32Array {
    const out = new Float32Array(to - from)
    this.midInto(out, from)
    return out
  }

  /** The same into an array, as many as it holds: where little is read often, arrays of its own would be many. */
  midInto(out: Float32Array, from: number): void {
    expandInto(out, this.mid, this.frames, from)
  }

  /** Side, likewise; silence for a mono track. */
  sideSamples(from: number, to: number): Float32Array {
    const out = new Float32Array(to - from)
    this.sideInto(out, from)
    return out
  }

  sideInto(out: Float32Array, from: number): void {
    const first = Math.min(out.length, Math.max(0, -from))
    const end = this.side ? Math.max(first, Math.min(out.length, this.frames - from)) : first
    out.fill(0, 0, first)
    out.fill(0, end)
    for (let i = first; i < end; i++) out[i] = SIDE_SAMPLES[(this.side?.[from + i] as number) + 128] as number
  }

  /** The same track with middle and side exchanged: who searches it hears what is in the side. */
  exchanged(): Track {
    return new ExchangedTrack(this.mid, this.side, this.frames)
  }
}

class ExchangedTrack extends Track {
  override midInto(out: Float32Array, from: number): void {
    super.sideInto(out, from)
  }

  override sideInto(out: Float32Array, from: number): void {
    super.midInto(out, from)
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

/**
 * Logarithmic companding to 8 bits, as of telephones but over 96 dB: the error stays about 32 dB under the sample, at every level.
 *
 * @param into Takes the codes from `at` on. Modified.
 */
export function compandSide(samples: Float32Array, into: Int8Array, at: number): void {
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i] as number
    const belowDb = SIDE_MAX_DB - 20 * Math.log10(Math.abs(value))
    const code = Math.min(SIDE_CODES, Math.round(SIDE_CODES - belowDb / SIDE_STEP_DB))
    into[at + i] = code < 1 ? 0 : value < 0 ? -code : code
  }
}

/** A track made from samples at the hearing rate. */
export function trackOf(mid: Float32Array, side: Float32Array | null = null): Track {
  const midCodes = new Int16Array(mid.length)
  compand(mid, midCodes, 0)
  const sideCodes = side ? new Int8Array(side.length) : null
  if (side && sideCodes) compandSide(side, sideCodes, 0)
  return new Track(midCodes, sideCodes, mid.length)
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
