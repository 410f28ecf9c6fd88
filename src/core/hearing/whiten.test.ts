import { describe, expect, it } from 'vitest'
import { bed, noise, rms, sine } from '../../../test/signals'
import { Fft } from '../audio/fft'
import { HEARING_RATE_HZ } from './constants'
import { whitenedSound, whitenedTrack } from './whiten'

/** Power in octaves from 125 Hz to 8 kHz, dB. */
function octaves(samples: Float32Array): number[] {
  const size = 16384
  const re = samples.slice(4000, 4000 + size)
  const im = new Float32Array(size)
  new Fft(size).forward(re, im)
  return [125, 250, 500, 1000, 2000, 4000].map((low) => {
    let sum = 0
    let count = 0
    for (let k = Math.ceil((low * size) / HEARING_RATE_HZ); k < (2 * low * size) / HEARING_RATE_HZ; k++) {
      sum += (re[k] as number) ** 2 + (im[k] as number) ** 2
      count++
    }
    return 10 * Math.log10(sum / count)
  })
}

describe('whitenedTrack', () => {
  it('makes a coloured track flat', () => {
    const track = bed({ length: 40000, rateHz: HEARING_RATE_HZ, seed: 3 })
    const before = octaves(track)
    const after = octaves(whitenedTrack(track))
    expect(Math.max(...before) - Math.min(...before)).toBeGreaterThan(12)
    expect(Math.max(...after) - Math.min(...after)).toBeLessThan(4)
  })

  it('does not depend on the level of the track', () => {
    const track = bed({ length: 20000, rateHz: HEARING_RATE_HZ, seed: 4 })
    const louder = whitenedTrack(track.map((value) => value * 8))
    const plain = whitenedTrack(track)
    const difference = louder.map((value, i) => value - (plain[i] as number))
    // Cells near the silence floor are not raised as far in the quieter track.
    expect(rms(difference) / rms(plain)).toBeLessThan(0.03)
  })

  it('keeps silence silent', () => {
    expect(rms(whitenedTrack(new Float32Array(5000)))).toBe(0)
  })

  it.each([0, 1, 511, 1025])('gives %i frames for as many', (length) => {
    const out = whitenedTrack(noise(length, 1))
    expect(out.length).toBe(length)
    expect(out.every(Number.isFinite)).toBe(true)
  })
})

describe('whitenedSound', () => {
  it('flattens a sound but leaves its noise floor down', () => {
    const rateHz = HEARING_RATE_HZ
    const tone = sine({ length: 16000, rateHz, frequencyHz: 600 })
    const hiss = noise(16000, 5, 1e-5)
    const out = whitenedSound(tone.map((value, i) => value + (hiss[i] as number)))
    const levels = octaves(Float32Array.from([...out, ...out]))
    // The hiss lies 100 dB under the tone: it must not be raised to the tone's height.
    expect((levels[2] as number) - (levels[5] as number)).toBeGreaterThan(30)
  })

  it('gives silence for silence', () => {
    expect(rms(whitenedSound(new Float32Array(3000)))).toBe(0)
  })
})
