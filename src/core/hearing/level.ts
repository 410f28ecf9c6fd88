import { CELL_BANDS } from './cells'
import { type BandSums, bandBins, type FrameRange, REDUNDANCY, smoothedNoise } from './sums'

/** Rounds of estimating gain and noise in turn; the third moves the gain by under 0.1 dB. */
const GAIN_ROUNDS = 4
/** How much more the cells count in which the sound leads. Measured on AAC at 128 kbit/s: 0.5 halves the tail of the codec's bias and leaves the parts as they are. */
const LEAD_EXPONENT = 0.5

/**
 * Weighted least squares for the gain, with the noise of each cell taken from what the gain leaves over.
 *
 * @param bands Only the lowest so many bands are used. @param profile Course of the level over all frames, 1 where left out.
 */
export function fittedGain(
  sums: BandSums,
  part: FrameRange,
  bands: number,
  profile?: Float32Array,
): { readonly gain: number; readonly noise: Float32Array } {
  let gain = 0
  let noise = smoothedNoise(sums, 0)
  for (let round = 0; round < GAIN_ROUNDS; round++) {
    let above = 0
    let below = 0
    for (let frame = part.from; frame < part.to; frame++) {
      const level = profile?.[frame] ?? 1
      for (let band = 0; band < bands; band++) {
        const i = frame * CELL_BANDS + band
        const spread = (noise[i] as number) * bandBins(band)
        const power = level * level * (sums.soundPower[i] as number)
        const expected = gain * gain * power
        // A codec wears down what is masked, so the cells in which the sound leads say most about its level.
        const lead = gain > 0 ? expected / (expected + spread) : 1
        const weight = lead ** LEAD_EXPONENT / (noise[i] as number)
        above += level * (sums.cross[i] as number) * weight
        below += power * weight
      }
    }
    gain = below > 0 ? above / below : 0
    if (!(gain > 0)) break
    noise = smoothedNoise(sums, gain)
  }
  return { gain, noise }
}

/** Share of the cells that a codec is taken to have worn. */
const WORN_SHARE = 0.4
/** Spread of the gain between cells that are not worn, as a fraction. */
const CELL_SPREAD = 0.06
/** The gain is sought this far around the fitted one, dB, in steps. */
const SEARCH_DOWN_DB = 1.5
const SEARCH_UP_DB = 4.5
const SEARCH_STEP_DB = 0.1
/** Frames that one estimate is taken over (0.16 s). */
const CELL_FRAMES = 10

/**
 * The gain, corrected for what a codec does: it takes away part of a sound that a louder one masks, and never adds to it. Each
 * band and stretch gives an estimate; each is either true but for noise, or worn to anything between nothing and the truth. The
 * likeliest gain under that mixture.
 *
 * @param gain A fitted gain to start from. @param noise Per bin, of all cells.
 */
export function unwornGain(
  sums: BandSums,
  {
    part,
    bands,
    gain,
    noise,
    profile,
  }: {
    readonly part: FrameRange
    readonly bands: number
    readonly gain: number
    readonly noise: Float32Array
    readonly profile?: Float32Array
  },
): number {
  const estimates = cellEstimates(sums, part, bands, noise, profile).filter(({ spread }) => spread < 0.7 * gain)
  if (estimates.length < 3) return gain
  let best = gain
  let likeliest = Number.NEGATIVE_INFINITY
  for (let stepDb = -SEARCH_DOWN_DB; stepDb <= SEARCH_UP_DB; stepDb += SEARCH_STEP_DB) {
    const candidate = gain * 10 ** (stepDb / 20)
    let likelihood = 0
    for (const { value, spread } of estimates) {
      const deviation = Math.hypot(spread, CELL_SPREAD * candidate)
      const truthful = Math.exp(-0.5 * ((value - candidate) / deviation) ** 2) / (deviation * Math.sqrt(2 * Math.PI))
      const worn = (normalCdf((candidate - value) / spread) - normalCdf(-value / spread)) / candidate
      likelihood += Math.log((1 - WORN_SHARE) * truthful + WORN_SHARE * Math.max(0, worn) + 1e-9 / candidate)
    }
    if (likelihood > likeliest) {
      likeliest = likelihood
      best = candidate
    }
  }
  return best
}

/** Gain of each band over each stretch of 0.16 s, with its standard deviation. */
function cellEstimates(
  sums: BandSums,
  part: FrameRange,
  bands: number,
  noise: Float32Array,
  profile?: Float32Array,
): { readonly value: number; readonly spread: number }[] {
  const estimates: { value: number; spread: number }[] = []
  const stretches = Math.max(1, Math.round((part.to - part.from) / CELL_FRAMES))
  for (let stretch = 0; stretch < stretches; stretch++) {
    const from = part.from + Math.floor((stretch * (part.to - part.from)) / stretches)
    const to = part.from + Math.floor(((stretch + 1) * (part.to - part.from)) / stretches)
    for (let band = 0; band < bands; band++) {
      let above = 0
      let below = 1e-12
      for (let frame = from; frame < to; frame++) {
        const i = frame * CELL_BANDS + band
        const level = profile?.[frame] ?? 1
        above += (level * (sums.cross[i] as number)) / (noise[i] as number)
        below += (level * level * (sums.soundPower[i] as number)) / (noise[i] as number)
      }
      estimates.push({ value: above / below, spread: Math.sqrt(REDUNDANCY / (2 * below)) })
    }
  }
  return estimates
}

/** Source: M. Abramowitz and I. Stegun, Handbook of Mathematical Functions, 26.2.17; error under 1e-7. */
function normalCdf(x: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(x))
  const tail =
    Math.exp((-x * x) / 2) *
    0.3989422804 *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return x >= 0 ? 1 - tail : tail
}
