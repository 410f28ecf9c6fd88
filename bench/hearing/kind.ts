import { RATE_HZ } from '../../demo/synthesis/toolkit'
import { Fft } from '../../src/core/audio'
import type { BenchSound } from './material'

/** What a sound is, for figures: a click is over at once, a tone holds its power in few frequencies, all else is noise. */
export type SoundKind = 'click' | 'tone' | 'noise'

/** A click has nine tenths of its energy within this, s. */
const CLICK_S = 0.06
/** Of the loudest part, so many samples (0.34 s), a tone has eight tenths in so many of its frequencies (of 2.9 Hz each). */
const PART = 16384
const TONE_BINS = 24
const TONE_SHARE = 0.8

export function kindOf({ left }: Pick<BenchSound, 'left'>): SoundKind {
  const sums = new Float64Array(left.length + 1)
  for (let n = 0; n < left.length; n++) sums[n + 1] = (sums[n] as number) + (left[n] as number) ** 2
  const total = sums[left.length] as number
  const click = mostWithin(sums, Math.round(CLICK_S * RATE_HZ))
  if (click.energy > 0.9 * total) return 'click'
  const { start } = mostWithin(sums, PART)
  const re = new Float32Array(PART)
  for (let n = 0; n < PART && start + n < left.length; n++)
    re[n] = (left[start + n] as number) * Math.sin((Math.PI * (n + 0.5)) / PART)
  const im = new Float32Array(PART)
  new Fft(PART).forward(re, im)
  const powers = Array.from({ length: PART / 2 }, (_, k) => (re[k] as number) ** 2 + (im[k] as number) ** 2)
  const sum = powers.reduce((one, other) => one + other, 1e-12)
  const most = powers
    .sort((a, b) => b - a)
    .slice(0, TONE_BINS)
    .reduce((one, other) => one + other, 0)
  return most > TONE_SHARE * sum ? 'tone' : 'noise'
}

/** The stretch of a length that holds most energy. */
function mostWithin(sums: Float64Array, length: number): { readonly start: number; readonly energy: number } {
  const frames = sums.length - 1
  let best = { start: 0, energy: sums[Math.min(frames, length)] as number }
  for (let start = 0; start + length <= frames; start += 48) {
    const energy = (sums[start + length] as number) - (sums[start] as number)
    if (energy > best.energy) best = { start, energy }
  }
  return best
}
