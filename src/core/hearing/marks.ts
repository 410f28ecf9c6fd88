import { eachPowerSpectrum } from '../audio/power-spectra'
import { HEARING_RATE_HZ } from './constants'

/**
 * Marks of a recording: 32 bits every 16 ms, from the signs of energy differences along bands and time. Two files of the same
 * recording have many equal marks at one displacement, whatever their level, rate or codec.
 *
 * Source: J. Haitsma and T. Kalker, A Highly Robust Audio Fingerprinting System, ISMIR 2002; windows shortened for effects.
 */
export const MARK_HOP = 256
const MARK_SIZE = 2048
const BANDS = 33
const LOW_HZ = 120
const HIGH_HZ = 6500

/** @param samples Mono at the hearing rate. @returns A mark each 256 frames; 0 where the sound is silent. */
export function soundMarks(samples: Float32Array): Uint32Array {
  const window = Float32Array.from({ length: MARK_SIZE }, (_, n) => Math.sin((Math.PI * (n + 0.5)) / MARK_SIZE) ** 2)
  const edges = Array.from({ length: BANDS + 1 }, (_, band) =>
    Math.round((LOW_HZ * (HIGH_HZ / LOW_HZ) ** (band / BANDS) * MARK_SIZE) / HEARING_RATE_HZ),
  )
  for (let band = 1; band <= BANDS; band++)
    edges[band] = Math.max(edges[band] as number, (edges[band - 1] as number) + 1)
  const frames = Math.max(1, Math.ceil(samples.length / MARK_HOP))
  const marks = new Uint32Array(frames)
  const startOf = (frame: number): number => frame * MARK_HOP + MARK_HOP / 2 - MARK_SIZE / 2
  let before = new Float32Array(BANDS)
  eachPowerSpectrum(samples, { window, count: frames, startOf }, (spectrum, frame) => {
    const energies = new Float32Array(BANDS)
    let total = 0
    for (let band = 0; band < BANDS; band++) {
      let sum = 0
      const end = edges[band + 1] as number
      for (let k = edges[band] as number; k < end; k++) sum += spectrum[k] as number
      energies[band] = sum
      total += sum
    }
    if (frame > 0 && total > 1e-6) marks[frame] = markOf(energies, before)
    before = energies
  })
  return marks
}

function markOf(now: Float32Array, before: Float32Array): number {
  let mark = 0
  for (let band = 0; band < BANDS - 1; band++) {
    const slope =
      (now[band] as number) - (now[band + 1] as number) - ((before[band] as number) - (before[band + 1] as number))
    mark = (mark << 1) | (slope > 0 ? 1 : 0)
  }
  return mark >>> 0
}
