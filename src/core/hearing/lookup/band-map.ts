import { Fft } from '../../audio'
import { HEARING_RATE_HZ } from '../constants'

/** Bands of the map: 24 an octave from 160 Hz on, the highest at about 7 kHz. A change of speed moves a sound along them. */
export const MAP_BANDS = 132
export const BANDS_AN_OCTAVE = 24
const LOWEST_HZ = 160
/** Sizes of the transforms, each for the bands from its frequency on: long ones tell low tones apart, short ones tell when. */
const SIZES = [
  { size: 2048, fromHz: 0 },
  { size: 1024, fromHz: 420 },
  { size: 512, fromHz: 1300 },
] as const

/** Power of a sound by time and band. */
export interface BandMap {
  readonly frames: number
  /** Frame after frame, `MAP_BANDS` values each, lowest band first. */
  readonly power: Float32Array
}

/**
 * The log-frequency map of a sound.
 *
 * @param samples Mono at the hearing rate. Not modified.
 * @param hop Samples from the middle of one frame to that of the next; the first lies on sample 0.
 * @param range Frames of the map that are wanted, the last not among them; all of them where it is left out.
 */
export function bandMap(
  samples: Float32Array,
  hop: number,
  range: { readonly from: number; readonly to: number } = { from: 0, to: Math.ceil(samples.length / hop) + 1 },
): BandMap {
  const frames = range.to - range.from
  const power = new Float32Array(frames * MAP_BANDS)
  for (const { size, window, bands } of tables()) {
    const fft = new Fft(size)
    const firstBins = new Float32Array(size / 2 + 1)
    const secondBins = new Float32Array(size / 2 + 1)
    for (let frame = 0; frame < frames; frame += 2) {
      const start = (range.from + frame) * hop - size / 2
      const second = frame + 1 < frames ? start + hop : null
      fft.framePowers(firstBins, secondBins, samples, { first: start, second, window })
      for (const { band, firstBin, weights } of bands) {
        let sum = 0
        let nextSum = 0
        for (let i = 0; i < weights.length; i++) {
          const weight = weights[i] as number
          sum += weight * (firstBins[firstBin + i] as number)
          nextSum += weight * (secondBins[firstBin + i] as number)
        }
        power[frame * MAP_BANDS + band] = sum
        if (second !== null) power[(frame + 1) * MAP_BANDS + band] = nextSum
      }
    }
  }
  return { frames, power }
}

interface BandWeights {
  readonly band: number
  readonly firstBin: number
  /** Of the bins from the first on; their sum is 1. */
  readonly weights: Float32Array
}

interface Table {
  readonly size: number
  readonly window: Float32Array
  readonly bands: readonly BandWeights[]
}

let made: Table[] | null = null

function tables() {
  made ??= SIZES.map(({ size, fromHz }, at) => {
    const toHz = SIZES[at + 1]?.fromHz ?? HEARING_RATE_HZ
    const bands = Array.from({ length: MAP_BANDS }, (_, band) => band)
      .filter((band) => bandHz(band) >= fromHz && bandHz(band) < toHz)
      .map((band) => weightsOf(band, size))
    const window = Float32Array.from({ length: size }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / size))
    return { size, window, bands }
  })
  return made
}

function bandHz(band: number): number {
  return LOWEST_HZ * 2 ** (band / BANDS_AN_OCTAVE)
}

/** A triangle as wide as the neighbouring bands, and at least as one bin of the transform. */
function weightsOf(band: number, size: number): BandWeights {
  const binHz = HEARING_RATE_HZ / size
  const middleHz = bandHz(band)
  const halfHz = Math.max(middleHz * (2 ** (1 / BANDS_AN_OCTAVE) - 1), binHz)
  const firstBin = Math.max(0, Math.ceil((middleHz - halfHz) / binHz))
  const lastBin = Math.min(size / 2, Math.floor((middleHz + halfHz) / binHz))
  const weights = Float32Array.from({ length: lastBin - firstBin + 1 }, (_, i) =>
    Math.max(0, 1 - Math.abs((firstBin + i) * binHz - middleHz) / halfHz),
  )
  const sum = weights.reduce((total, weight) => total + weight, 0) || 1
  return { band, firstBin, weights: weights.map((weight) => weight / sum) }
}
