import { Fft, windowedInto } from '../../audio'
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
  for (const { size, bands } of tables()) {
    const fft = new Fft(size)
    const window = Float32Array.from({ length: size }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / size))
    const re = new Float32Array(size)
    const im = new Float32Array(size)
    const firstBins = new Float64Array(size)
    const secondBins = new Float64Array(size)
    const firstOfAll = Math.min(...bands.map(({ firstBin }) => firstBin))
    const lastOfAll = Math.max(...bands.map(({ firstBin, weights }) => firstBin + weights.length - 1))
    // Two real frames ride in one complex transform.
    for (let frame = 0; frame < frames; frame += 2) {
      const start = (range.from + frame) * hop - size / 2
      windowedInto(re, samples, start, window)
      if (frame + 1 < frames) windowedInto(im, samples, start + hop, window)
      else im.fill(0)
      fft.forward(re, im)
      for (let k = firstOfAll; k <= lastOfAll; k++) {
        const m = (size - k) % size
        const sumRe = (re[k] as number) + (re[m] as number)
        const sumIm = (im[k] as number) - (im[m] as number)
        const lessRe = (im[k] as number) + (im[m] as number)
        const lessIm = (re[m] as number) - (re[k] as number)
        firstBins[k] = sumRe * sumRe + sumIm * sumIm
        secondBins[k] = lessRe * lessRe + lessIm * lessIm
      }
      for (const { band, firstBin, weights } of bands) {
        let first = 0
        let second = 0
        for (let i = 0; i < weights.length; i++) {
          const weight = 0.25 * (weights[i] as number)
          first += weight * (firstBins[firstBin + i] as number)
          second += weight * (secondBins[firstBin + i] as number)
        }
        power[frame * MAP_BANDS + band] = first
        if (frame + 1 < frames) power[(frame + 1) * MAP_BANDS + band] = second
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

let made: { readonly size: number; readonly bands: readonly BandWeights[] }[] | null = null

function tables() {
  made ??= SIZES.map(({ size, fromHz }, at) => {
    const toHz = SIZES[at + 1]?.fromHz ?? HEARING_RATE_HZ
    const bands = Array.from({ length: MAP_BANDS }, (_, band) => band)
      .filter((band) => bandHz(band) >= fromHz && bandHz(band) < toHz)
      .map((band) => weightsOf(band, size))
    return { size, bands }
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
