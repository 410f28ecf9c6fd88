/** Coefficients of one second-order section, scaled so that a0 is 1. */
export interface BiquadCoefficients {
  readonly b0: number
  readonly b1: number
  readonly b2: number
  readonly a1: number
  readonly a2: number
}

export type BiquadKind = 'low-pass' | 'high-pass' | 'peak'

/**
 * A second-order filter.
 *
 * @param frequencyHz Corner or centre; kept under 0.49 of the rate. @param gainDb Of a peak only.
 *
 * Source: R. Bristow-Johnson, Cookbook formulae for audio EQ biquad filter coefficients.
 */
export function biquad(
  kind: BiquadKind,
  {
    frequencyHz,
    q,
    gainDb = 0,
    sampleRateHz,
  }: {
    readonly frequencyHz: number
    readonly q: number
    readonly gainDb?: number
    readonly sampleRateHz: number
  },
): BiquadCoefficients {
  const w = (2 * Math.PI * Math.min(frequencyHz, 0.49 * sampleRateHz)) / sampleRateHz
  const cos = Math.cos(w)
  const alpha = Math.sin(w) / (2 * q)
  const scaled = (b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): BiquadCoefficients => ({
    b0: b0 / a0,
    b1: b1 / a0,
    b2: b2 / a0,
    a1: a1 / a0,
    a2: a2 / a0,
  })
  switch (kind) {
    case 'low-pass':
      return scaled((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha)
    case 'high-pass':
      return scaled((1 + cos) / 2, -(1 + cos), (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha)
    case 'peak': {
      const a = 10 ** (gainDb / 40)
      return scaled(1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a)
    }
  }
}

/** A chain of second-order sections for one channel, with its state. */
export class BiquadChain {
  private readonly state: Float64Array

  constructor(private readonly sections: readonly BiquadCoefficients[]) {
    this.state = new Float64Array(2 * sections.length)
  }

  /** Filters in place. */
  process(samples: Float32Array): void {
    const { state } = this
    for (const [at, { b0, b1, b2, a1, a2 }] of this.sections.entries()) {
      let s0 = state[2 * at] as number
      let s1 = state[2 * at + 1] as number
      for (let n = 0; n < samples.length; n++) {
        const x = samples[n] as number
        const y = b0 * x + s0
        s0 = b1 * x - a1 * y + s1
        s1 = b2 * x - a2 * y
        samples[n] = y
      }
      // What is too small to be heard would only make the arithmetic slow.
      state[2 * at] = Math.abs(s0) < 1e-25 ? 0 : s0
      state[2 * at + 1] = Math.abs(s1) < 1e-25 ? 0 : s1
    }
  }
}
