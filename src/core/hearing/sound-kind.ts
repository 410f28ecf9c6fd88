import { Fft } from '../audio/fft'

/** What a sound is to a matched filter: a click is over at once, a tone holds its power in few frequencies, all else is noise. */
export type SoundKind = 'click' | 'tone' | 'noise'

/** A click has nine tenths of its energy within this, s. */
const CLICK_S = 0.06
const CLICK_SHARE = 0.9
/** A tone has eight tenths of the power of its loudest part, which is about so long, in so much of the band. */
const PART_S = 0.3
const TONE_HZ = 70
const TONE_SHARE = 0.8

/** @param samples Mono, not empty. */
export function soundKind(samples: Float32Array, rateHz: number): SoundKind {
  const sums = new Float64Array(samples.length + 1)
  for (let n = 0; n < samples.length; n++) sums[n + 1] = (sums[n] as number) + (samples[n] as number) ** 2
  const step = Math.max(1, Math.round(rateHz / 1000))
  const part = 2 ** Math.round(Math.log2(PART_S * rateHz))
  if (toneShare(samples, mostWithin(sums, part, step).start, part, rateHz) > TONE_SHARE) return 'tone'
  const { energy } = mostWithin(sums, Math.round(CLICK_S * rateHz), step)
  return energy > CLICK_SHARE * (sums[samples.length] as number) ? 'click' : 'noise'
}

/** How much of the power of a part lies in its strongest frequencies. */
function toneShare(samples: Float32Array, start: number, part: number, rateHz: number): number {
  const re = new Float32Array(part)
  for (let n = 0; n < part && start + n < samples.length; n++)
    re[n] = (samples[start + n] as number) * Math.sin((Math.PI * (n + 0.5)) / part)
  const im = new Float32Array(part)
  new Fft(part).forward(re, im)
  const powers = Float64Array.from({ length: part / 2 }, (_, k) => (re[k] as number) ** 2 + (im[k] as number) ** 2)
  const sum = powers.reduce((one, other) => one + other, 1e-12)
  const strongest = powers.sort().subarray(-Math.round((TONE_HZ * part) / rateHz))
  return strongest.reduce((one, other) => one + other, 0) / sum
}

/** The stretch of a length that holds most energy. @param sums Energy up to each sample. */
function mostWithin(
  sums: Float64Array,
  length: number,
  step: number,
): { readonly start: number; readonly energy: number } {
  const frames = sums.length - 1
  let best = { start: 0, energy: sums[Math.min(frames, length)] as number }
  for (let start = 0; start + length <= frames; start += step) {
    const energy = (sums[start + length] as number) - (sums[start] as number)
    if (energy > best.energy) best = { start, energy }
  }
  return best
}
