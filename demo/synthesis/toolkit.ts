/** Rate at which all demo sounds are made, Hz. */
export const RATE_HZ = 48000

/** A seeded source of chance; the same seed gives the same sound on every machine. */
export class Chance {
  /** Where it stands: two that stand at one place go on alike. */
  state: number

  constructor(seed: number) {
    this.state = (seed * 2654435761 + 12345) >>> 0 || 1
  }

  /** Uniform, 0 to 1. Source: xorshift32, G. Marsaglia, 2003. */
  unit(): number {
    this.state ^= this.state << 13
    this.state >>>= 0
    this.state ^= this.state >>> 17
    this.state ^= this.state << 5
    this.state >>>= 0
    return this.state / 4294967296
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.unit()
  }

  /** Uniform noise, -1 to 1. */
  noise(): number {
    return 2 * this.unit() - 1
  }
}

export function seconds(durationS: number): Float32Array {
  return new Float32Array(Math.round(durationS * RATE_HZ))
}

/** Fills a clip from a function of time. */
export function drawn(durationS: number, valueAt: (timeS: number, index: number) => number): Float32Array {
  const out = seconds(durationS)
  for (let i = 0; i < out.length; i++) out[i] = valueAt(i / RATE_HZ, i)
  return out
}

export function whiteNoise(durationS: number, chance: Chance): Float32Array {
  return drawn(durationS, () => chance.noise())
}

/** Noise that falls 3 dB an octave. Source: P. Kellet's filter. */
export function pinkNoise(durationS: number, chance: Chance): Float32Array {
  let b0 = 0
  let b1 = 0
  let b2 = 0
  return drawn(durationS, () => {
    const white = chance.noise()
    b0 = 0.99765 * b0 + white * 0.099046
    b1 = 0.963 * b1 + white * 0.2965164
    b2 = 0.57 * b2 + white * 1.0526913
    return (b0 + b1 + b2 + white * 0.1848) * 0.25
  })
}

export type FilterKind = 'low' | 'high' | 'band'

/** Second-order filter whose frequency may move; `frequencyAt` gives Hz. State-variable form after A. Simper, 2013. */
export function filtered(
  samples: Float32Array,
  kind: FilterKind,
  frequencyAt: number | ((timeS: number) => number),
  q = Math.SQRT1_2,
): Float32Array {
  const out = new Float32Array(samples.length)
  let ic1 = 0
  let ic2 = 0
  let g = 0
  const k = 1 / q
  for (let i = 0; i < samples.length; i++) {
    if (i % 32 === 0) {
      const frequency = typeof frequencyAt === 'number' ? frequencyAt : frequencyAt(i / RATE_HZ)
      g = Math.tan((Math.PI * Math.min(Math.max(frequency, 10), RATE_HZ * 0.45)) / RATE_HZ)
    }
    const a1 = 1 / (1 + g * (g + k))
    const v3 = (samples[i] as number) - ic2
    const v1 = a1 * ic1 + g * a1 * v3
    const v2 = ic2 + g * v1
    ic1 = 2 * v1 - ic1
    ic2 = 2 * v2 - ic2
    out[i] = kind === 'low' ? v2 : kind === 'band' ? v1 * k : (samples[i] as number) - k * v1 - v2
  }
  return out
}

/** Multiplies by a function of time. */
export function shaped(samples: Float32Array, levelAt: (timeS: number) => number): Float32Array {
  return samples.map((value, i) => value * levelAt(i / RATE_HZ))
}

/** Rises in `attackS`, then falls by 60 dB in `decayS`. */
export function strike(attackS: number, decayS: number): (timeS: number) => number {
  return (t) => (t < attackS ? t / attackS : 10 ** ((-3 * (t - attackS)) / decayS))
}

/** Adds `part` to `into` from `atS` on, in place; what does not fit is cut. */
export function mixIn(into: Float32Array, part: Float32Array, atS: number, gain = 1): void {
  const start = Math.round(atS * RATE_HZ)
  for (let i = Math.max(0, -start); i < part.length && start + i < into.length; i++)
    into[start + i] = (into[start + i] as number) + gain * (part[i] as number)
}

/** A sum of decaying partials: a struck body. `partials` are frequency (Hz), level, decay (s). */
export function body(durationS: number, partials: readonly (readonly [number, number, number])[]): Float32Array {
  return drawn(durationS, (t) => {
    let sum = 0
    for (const [frequency, level, decay] of partials)
      sum += level * Math.sin(2 * Math.PI * frequency * t) * 10 ** ((-3 * t) / decay)
    return sum
  })
}

/** A tone whose frequency moves; phase is kept. `shape` turns phase in cycles into a value. */
export function tone(
  durationS: number,
  frequencyAt: (timeS: number) => number,
  shape: (cycles: number) => number = (cycles) => Math.sin(2 * Math.PI * cycles),
): Float32Array {
  let cycles = 0
  return drawn(durationS, (t) => {
    cycles += frequencyAt(t) / RATE_HZ
    return shape(cycles)
  })
}

export function saw(cycles: number): number {
  return 2 * (cycles - Math.floor(cycles + 0.5))
}

/** A room: early taps and a tail of filtered noise, convolved sparsely. Returns left and right. */
export function inRoom(
  samples: Float32Array,
  tailS: number,
  wet: number,
  chance: Chance,
): [Float32Array, Float32Array] {
  const length = samples.length + Math.round(tailS * RATE_HZ)
  const side = (): Float32Array => {
    const out = new Float32Array(length)
    for (let i = 0; i < samples.length; i++) out[i] = samples[i] as number
    const taps = 96
    for (let k = 0; k < taps; k++) {
      const at = (k / taps) ** 1.4 * tailS + chance.between(0.004, 0.02)
      const gain = (wet * chance.noise() * 10 ** ((-3 * at) / tailS)) / Math.sqrt(taps) / 0.25
      const start = Math.round(at * RATE_HZ)
      for (let i = 0; i < samples.length && start + i < length; i++)
        out[start + i] = (out[start + i] as number) + gain * (samples[i] as number)
    }
    return out
  }
  return [side(), side()]
}

/** Peak of a finished sound. */
export const PEAK = 0.8

/** The highest value of some channels, whatever its sign. */
export function loudestOf(channels: readonly Float32Array[]): number {
  let loudest = 1e-9
  for (const channel of channels) for (const value of channel) loudest = Math.max(loudest, Math.abs(value))
  return loudest
}

/** Scales to a peak, with fades of a few milliseconds so that no clip starts or ends with a step. */
export function finished(channels: readonly Float32Array[], peak = PEAK, fadeS = 0.004): Float32Array[] {
  const loudest = loudestOf(channels)
  const fade = Math.round(fadeS * RATE_HZ)
  return channels.map((channel) =>
    channel.map((value, i) => {
      const edge = Math.min(1, (i + 1) / Math.min(fade, 24), (channel.length - i) / fade)
      return (value * peak * edge) / loudest
    }),
  )
}
