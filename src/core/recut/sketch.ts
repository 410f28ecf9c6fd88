import { Fft } from '../audio/fft'

/** What is kept of a sound track to find its places in another cut: how each band moves around its own mean. */
export interface TrackSketch {
  /** One row of {@link SKETCH_BANDS} values for each {@link SKETCH_STEP_S}. */
  readonly values: Int8Array
  readonly count: number
}

export const SKETCH_BANDS = 12
export const SKETCH_STEP_S = 0.01
/** Rate that is sketched, Hz. */
export const SKETCH_RATE_HZ = 16_000

const STEP_FRAMES = SKETCH_STEP_S * SKETCH_RATE_HZ
const FFT_SIZE = 512
const LOWEST_HZ = 120
const HIGHEST_HZ = 6500
/** A band is compared with its own mean over so much on either side, steps. */
const MEAN_STEPS = 60
/** Softer than this is taken for silence, dB of full scale. */
const FLOOR_DB = -78
/** Values a dB: ±40 dB fit. */
const VALUES_PER_DB = 3

/**
 * Sketches a track.
 *
 * @param samples Mono at {@link SKETCH_RATE_HZ}, a stretch at a time: asked for from a frame on, so many frames; 0 beyond the ends.
 */
export function trackSketch(
  samples: (from: number, length: number) => Float32Array,
  lengthFrames: number,
): TrackSketch {
  const count = Math.floor(lengthFrames / STEP_FRAMES)
  const levels = new Float32Array(count * SKETCH_BANDS)
  const fft = new Fft(FFT_SIZE)
  const window = Float32Array.from({ length: FFT_SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FFT_SIZE))
  const edges = bandEdges()
  const re = new Float32Array(FFT_SIZE)
  const im = new Float32Array(FFT_SIZE)
  for (let step = 0; step < count; step++) {
    const block = samples(step * STEP_FRAMES - FFT_SIZE / 2, FFT_SIZE)
    for (let i = 0; i < FFT_SIZE; i++) re[i] = (block[i] as number) * (window[i] as number)
    im.fill(0)
    fft.forward(re, im)
    for (let band = 0; band < SKETCH_BANDS; band++) {
      let power = 0
      for (let bin = edges[band] as number; bin < (edges[band + 1] as number); bin++)
        power += (re[bin] as number) ** 2 + (im[bin] as number) ** 2
      const db = 10 * Math.log10((4 * power) / FFT_SIZE ** 2 + 1e-12)
      levels[step * SKETCH_BANDS + band] = Math.max(FLOOR_DB, db)
    }
  }
  return { values: aroundMean(levels, count), count }
}

function bandEdges(): number[] {
  const ratio = (HIGHEST_HZ / LOWEST_HZ) ** (1 / SKETCH_BANDS)
  const edges: number[] = []
  for (let band = 0; band <= SKETCH_BANDS; band++) {
    const bin = Math.round((LOWEST_HZ * ratio ** band * FFT_SIZE) / SKETCH_RATE_HZ)
    edges.push(Math.max(bin, (edges[band - 1] ?? 2) + 1))
  }
  return edges
}

/** Each band less its mean around, so that a change of level changes nothing. */
function aroundMean(levels: Float32Array, count: number): Int8Array {
  const values = new Int8Array(levels.length)
  for (let band = 0; band < SKETCH_BANDS; band++) {
    let sum = 0
    let inSum = 0
    for (let ahead = 0; ahead < Math.min(count, MEAN_STEPS); ahead++, inSum++)
      sum += levels[ahead * SKETCH_BANDS + band] as number
    for (let step = 0; step < count; step++) {
      if (step + MEAN_STEPS < count) {
        sum += levels[(step + MEAN_STEPS) * SKETCH_BANDS + band] as number
        inSum++
      }
      if (step - MEAN_STEPS - 1 >= 0) {
        sum -= levels[(step - MEAN_STEPS - 1) * SKETCH_BANDS + band] as number
        inSum--
      }
      const value = VALUES_PER_DB * ((levels[step * SKETCH_BANDS + band] as number) - sum / inSum)
      values[step * SKETCH_BANDS + band] = Math.max(-127, Math.min(127, Math.round(value)))
    }
  }
  return values
}
