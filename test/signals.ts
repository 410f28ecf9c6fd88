/** Test signals: deterministic, full scale 1. */

/** White noise, -1 to 1, from a seed. */
export function noise(length: number, seed: number, level = 1): Float32Array {
  const out = new Float32Array(length)
  let state = (seed * 2654435761 + 97) >>> 0
  for (let n = 0; n < length; n++) {
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    out[n] = level * ((2 * (state >>> 0)) / 4294967296 - 1)
  }
  return out
}

export function sine(options: { length: number; rateHz: number; frequencyHz: number; level?: number }): Float32Array {
  const { length, rateHz, frequencyHz, level = 1 } = options
  const out = new Float32Array(length)
  for (let n = 0; n < length; n++) out[n] = level * Math.sin((2 * Math.PI * frequencyHz * n) / rateHz)
  return out
}

/** Whether two signals are the same, sample by sample. A matcher for arrays takes seconds for seconds of sound. */
export function areSame(one: Float32Array, other: Float32Array): boolean {
  return one.length === other.length && one.every((value, at) => Object.is(value, other[at]))
}

export function rms(samples: Float32Array, from = 0, to = samples.length): number {
  let sum = 0
  for (let i = from; i < to; i++) sum += (samples[i] as number) ** 2
  return Math.sqrt(sum / Math.max(1, to - from))
}

/** The most by which two signals of one length differ at any sample; infinite where one has no number, or their lengths differ. */
export function worstDifference(one: Float32Array, other: Float32Array): number {
  if (one.length !== other.length) return Number.POSITIVE_INFINITY
  let worst = 0
  for (let n = 0; n < one.length; n++) {
    const difference = Math.abs((one[n] as number) - (other[n] as number))
    if (!(difference <= worst)) worst = Number.isNaN(difference) ? Number.POSITIVE_INFINITY : difference
  }
  return worst
}

/** A short effect with a character of its own: coloured noise and a falling tone under a decaying envelope. */
export function effect(options: { length: number; rateHz: number; seed: number; frequencyHz?: number }): Float32Array {
  const { length, rateHz, seed, frequencyHz = 700 } = options
  const white = noise(length, seed)
  let low = 0
  return white.map((value, n) => {
    const t = n / rateHz
    low += 0.25 * (value - low)
    const tone = Math.sin(2 * Math.PI * frequencyHz * t * (1 - 0.25 * t))
    return 0.7 * (low + 0.4 * tone) * Math.min(1, n / 20) * Math.exp((-3 * n) / length)
  })
}

/** Speech-like and music-like bed: noise in syllables over a chord that changes. */
export function bed(options: { length: number; rateHz: number; seed: number; level?: number }): Float32Array {
  const { length, rateHz, seed, level = 0.1 } = options
  const white = noise(length, seed)
  let a = 0
  let b = 0
  return white.map((value, n) => {
    const t = n / rateHz
    const syllable = Math.max(0, Math.sin(2 * Math.PI * 3.3 * t + seed)) ** 2
    a += 0.35 * (value - a)
    b += 0.05 * (a - b)
    const root = 110 * 2 ** (([0, 3, 7, 5][Math.floor(t / 1.7) % 4] as number) / 12)
    const chord =
      Math.sin(2 * Math.PI * root * t) +
      0.6 * Math.sin(2 * Math.PI * root * 1.5 * t) +
      0.4 * Math.sin(2 * Math.PI * root * 2.52 * t)
    return level * (2.4 * syllable * (a - b) + 0.5 * chord)
  })
}

/** Adds `part` at `at`, in place. */
export function addAt(into: Float32Array, part: Float32Array, at: number, gain = 1): void {
  for (let i = 0; i < part.length && at + i < into.length; i++)
    if (at + i >= 0) into[at + i] = (into[at + i] as number) + gain * (part[i] as number)
}

/** Left and right of a hum, under which bright noise is turned over on the right for a second. */
export function opposedUnderHum(options: {
  length: number
  rateHz: number
  atS: number
}): [Float32Array, Float32Array] {
  const { length, rateHz, atS } = options
  const white = noise(rateHz, 7)
  const bright = white.map((value, n) => value - (white[n - 1] ?? 0))
  const channel = (gain: number): Float32Array => {
    const samples = sine({ length, rateHz, frequencyHz: 90, level: 0.3 })
    addAt(samples, bright, Math.round(atS * rateHz), gain)
    return samples
  }
  return [channel(0.1), channel(-0.1)]
}
