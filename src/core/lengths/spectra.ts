import { eachPowerSpectrum } from '../audio'

/** Bands of a spectrum that stands for how a moment sounds: third octaves from 80 Hz on. */
export const BANDS = 24
const LOWEST_HZ = 80
const BANDS_PER_OCTAVE = 3
/** Two frames lie so far apart, s; each looks at four times that. */
export const FRAME_STEP_S = 0.02
const FFT_MIN = 512
/** Quieter than this below full scale counts as this, dB: what nobody hears makes no difference. */
const FLOOR_DB = -90

/** How a sound goes on: the level of each band in each frame. */
export interface Spectra {
  readonly stepS: number
  readonly frames: number
  /** Frame after frame, dB of full scale, at least -90. */
  readonly levelsDb: Float32Array
  /** Level of each frame over all bands, dB. */
  readonly frameDb: Float32Array
}

/** @param samples Mono, full scale 1. Not modified. */
export function spectraOf(samples: Float32Array, sampleRateHz: number): Spectra {
  const step = Math.round(FRAME_STEP_S * sampleRateHz)
  const frames = Math.max(1, Math.ceil(samples.length / step))
  const size = Math.max(FFT_MIN, 2 ** Math.round(Math.log2(4 * step)))
  const startOf = (frame: number): number => Math.round((frame + 0.5) * step - size / 2)
  const window = Float32Array.from({ length: size }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / size) ** 2)
  const windowPower = window.reduce((sum, value) => sum + value * value, 0)
  const bandOfBin = Int8Array.from({ length: size / 2 }, (_, bin) =>
    Math.max(
      -1,
      Math.min(BANDS - 1, Math.floor(BANDS_PER_OCTAVE * Math.log2((bin * sampleRateHz) / size / LOWEST_HZ))),
    ),
  )
  const levelsDb = new Float32Array(frames * BANDS)
  const frameDb = new Float32Array(frames)
  const power = new Float64Array(BANDS)
  eachPowerSpectrum(samples, { window, count: frames, startOf }, (spectrum, frame) => {
    power.fill(0)
    for (let bin = 1; bin < size / 2; bin++) {
      const band = bandOfBin[bin] as number
      if (band >= 0) power[band] = (power[band] as number) + 2 * (spectrum[bin] as number)
    }
    let sum = 0
    for (let band = 0; band < BANDS; band++) {
      const mean = (power[band] as number) / (size * windowPower)
      sum += mean
      levelsDb[frame * BANDS + band] = decibels(mean)
    }
    frameDb[frame] = decibels(sum)
  })
  return { stepS: step / sampleRateHz, frames, levelsDb, frameDb }
}

function decibels(power: number): number {
  return Math.max(FLOOR_DB, 10 * Math.log10(power + 1e-12))
}

/** Bands quieter than this below the louder of two frames are not heard beside its others, dB. */
const MASKED_DB = 45

/** How unlike two frames sound, dB: the mean difference over the bands that are heard in either. */
export function unlikeDb({ levelsDb, frameDb }: Spectra, one: number, other: number): number {
  const floor = Math.max(frameDb[one] as number, frameDb[other] as number) - MASKED_DB
  let sum = 0
  let heard = 0
  for (let band = 0; band < BANDS; band++) {
    const a = Math.max(floor, levelsDb[one * BANDS + band] as number)
    const b = Math.max(floor, levelsDb[other * BANDS + band] as number)
    sum += Math.abs(a - b)
    if (Math.max(a, b) > floor) heard++
  }
  return heard === 0 ? 0 : sum / heard
}
