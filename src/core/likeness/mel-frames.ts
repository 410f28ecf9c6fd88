import { eachPowerSpectrum } from '../audio'

/** Bands of the mel scale. */
export const MEL_BANDS = 40
const LOWEST_HZ = 40
const HIGHEST_HZ = 16_000
/** Length of the part that is transformed at a time, s: long enough to tell bands of 40 Hz apart. */
const WINDOW_S = 0.04
const HOP_S = 0.01
/** Longer sounds are looked at in wider steps, so that none costs more than this many transforms. */
const MAX_FRAMES = 4000
/** Quietest level that is told apart, dB below the loudest cell. */
export const FLOOR_DB = -70

/** Levels of a sound by time and band. */
export interface MelFrames {
  readonly count: number
  readonly hopS: number
  /** dB relative to the loudest cell, not below `FLOOR_DB`; frame after frame, low band first. */
  readonly levelsDb: Float32Array
  /** Energy of each frame, linear. */
  readonly energies: Float32Array
}

/**
 * The log-mel picture of a sound.
 *
 * @param samples Mono, full scale 1. Not modified. @param sampleRateHz 8 000 to 192 000.
 * @returns Null for silence. Mel scale: S. S. Stevens, J. Volkmann, E. B. Newman 1937, in the form m = 2595 log10(1 + f / 700).
 */
export function melFrames(samples: Float32Array, sampleRateHz: number): MelFrames | null {
  const size = 2 ** Math.ceil(Math.log2(WINDOW_S * sampleRateHz))
  const hop = Math.max(Math.round(HOP_S * sampleRateHz), Math.ceil(samples.length / MAX_FRAMES))
  const count = Math.max(1, Math.ceil(samples.length / hop))
  const bands = melBands(size, sampleRateHz)
  const window = Float32Array.from({ length: size }, (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (at + 0.5)) / size))
  const startOf = (frame: number): number => Math.round(frame * hop - size / 2 + hop / 2)
  const powers = new Float32Array(count * MEL_BANDS)
  const energies = new Float32Array(count)
  let loudest = 0
  eachPowerSpectrum(samples, { window, count, startOf }, (spectrum, frame) => {
    for (let band = 0; band < MEL_BANDS; band++) {
      const sum = bandPower(spectrum, bands[band] as Band)
      powers[frame * MEL_BANDS + band] = sum
      energies[frame] = (energies[frame] as number) + sum
      if (sum > loudest) loudest = sum
    }
  })
  // Quieter than the noise of 24 bits is silence.
  if (loudest < 1e-9) return null
  const levelsDb = powers.map((power) => Math.max(FLOOR_DB, 10 * Math.log10(Math.max(power / loudest, 1e-12))))
  return { count, hopS: hop / sampleRateHz, levelsDb, energies }
}

/** What a band holds of a spectrum. */
function bandPower(powers: Float32Array, { first, weights }: Band): number {
  let sum = 0
  for (let step = 0; step < weights.length; step++) sum += (weights[step] as number) * (powers[first + step] as number)
  return sum
}

interface Band {
  readonly first: number
  readonly weights: Float32Array
}

/** Middle of each band, Hz. */
export function bandCentresHz(): number[] {
  const [low, high] = [melOf(LOWEST_HZ), melOf(HIGHEST_HZ)]
  return Array.from({ length: MEL_BANDS }, (_, band) => hzOf(low + ((high - low) * (band + 1)) / (MEL_BANDS + 1)))
}

/** Triangles that overlap by half; one that falls between two lines of the transform takes the nearest. */
function melBands(size: number, sampleRateHz: number): Band[] {
  const [low, high] = [melOf(LOWEST_HZ), melOf(HIGHEST_HZ)]
  const edge = (index: number): number => hzOf(low + ((high - low) * index) / (MEL_BANDS + 1))
  const lineHz = sampleRateHz / size
  return Array.from({ length: MEL_BANDS }, (_, band) => {
    const [from, middle, to] = [edge(band), edge(band + 1), edge(band + 2)]
    const first = Math.min(size / 2, Math.ceil(from / lineHz))
    const last = Math.min(size / 2, Math.floor(to / lineHz))
    const weights: number[] = []
    for (let line = first; line <= last; line++) {
      const hz = line * lineHz
      weights.push(hz <= middle ? (hz - from) / (middle - from) : (to - hz) / (to - middle))
    }
    if (weights.every((weight) => weight <= 0))
      return { first: Math.min(size / 2, Math.round(middle / lineHz)), weights: Float32Array.of(1) }
    return { first, weights: Float32Array.from(weights) }
  })
}

function melOf(hz: number): number {
  return 2595 * Math.log10(1 + hz / 700)
}

function hzOf(mel: number): number {
  return 700 * (10 ** (mel / 2595) - 1)
}
