import { describe, expect, it } from 'vitest'
import { noise, rms, sine, worstDifference } from '../../../test/signals'
import { compiledFir, Resampler, resampled } from './resample'

const RATES = [8000, 11025, 16000, 22050, 32000, 44100, 48000, 96000]

describe('resampled', () => {
  it.each(RATES.filter((rate) => rate !== 16000))('keeps a 1 kHz sine in place and level from %i Hz', (fromHz) => {
    const input = sine({ length: fromHz, rateHz: fromHz, frequencyHz: 1000, level: 0.5 })
    const output = resampled(input, { fromHz, toHz: 16000 })
    const expected = sine({ length: 16000, rateHz: 16000, frequencyHz: 1000, level: 0.5 })
    expect(output.length).toBe(16000)
    // The edges lack neighbours; inside, the kernel's pass band is flat to about 0.1 %.
    const difference = output.map((value, i) => value - (expected[i] as number))
    expect(rms(difference, 400, 15600) / rms(expected)).toBeLessThan(0.002)
  })

  it('keeps out what lies above the new Nyquist frequency', () => {
    const input = sine({ length: 48000, rateHz: 48000, frequencyHz: 9200, level: 0.5 })
    const output = resampled(input, { fromHz: 48000, toHz: 16000 })
    // 80 dB stop band by design; 60 dB asked for.
    expect(20 * Math.log10(rms(output, 500, 15500) / rms(input))).toBeLessThan(-60)
  })

  it('puts an impulse where it was: no delay', () => {
    const input = new Float32Array(4800)
    input[2400] = 1
    const output = resampled(input, { fromHz: 48000, toHz: 16000 })
    const at = output.reduce((best, value, i) => (value > (output[best] as number) ? i : best), 0)
    expect(at).toBe(800)
  })

  it('copies when the rates are equal', () => {
    const input = noise(100, 5)
    const output = resampled(input, { fromHz: 16000, toHz: 16000 })
    expect([...output]).toEqual([...input])
    expect(output).not.toBe(input)
  })

  it.each([0, 1, 2, 7])('takes a clip of %i frames', (length) => {
    const output = resampled(noise(length, 1), { fromHz: 44100, toHz: 16000 })
    expect(output.length).toBe(Math.round((length * 16000) / 44100))
    expect(output.every(Number.isFinite)).toBe(true)
  })

  it.each([
    [0, 16000],
    [48000, 3999],
    [44100.5, 16000],
    [500000, 16000],
  ])('refuses %f to %f Hz', (fromHz, toHz) => {
    expect(() => new Resampler({ fromHz, toHz })).toThrow(RangeError)
  })
})

describe('the compiled loop', () => {
  it.each([
    [48000, 16000],
    [44100, 16000],
    [16000, 44100],
    [11025, 16000],
  ])('agrees with the plain one from %i to %i Hz, over several batches', (fromHz, toHz) => {
    const input = noise(90000, 4)
    const [plain, compiled] = [false, true].map((choice) => new Resampler({ fromHz, toHz }, choice).push(input))
    expect(plain?.length).toBeGreaterThan(29_000)
    expect(worstDifference(plain as Float32Array, compiled as Float32Array)).toBeLessThan(1e-5)
  })
})

describe('Resampler', () => {
  it.each([1, 37, 1024, 4096])('gives the same in blocks of %i frames as in one', (block) => {
    const input = noise(9000, 8)
    const whole = resampled(input, { fromHz: 44100, toHz: 16000 })
    const resampler = new Resampler({ fromHz: 44100, toHz: 16000 })
    const parts: number[] = []
    for (let at = 0; at < input.length; at += block) parts.push(...resampler.push(input.subarray(at, at + block)))
    parts.push(...resampler.flush())
    expect(parts.length).toBe(whole.length)
    expect(parts).toEqual([...whole])
  })
})

describe('the compiled filter', () => {
  const fir = compiledFir()

  it.each([
    [4, 1],
    [52, 1000],
    [256, 3],
    // More than one batch.
    [52, 70_000],
  ])('of %d taps gives for %d places what the sums by hand give', (tapCount, places) => {
    if (!fir) throw new Error('there is no SIMD here')
    const taps = noise(tapCount, 3, 1)
    const input = noise(places + tapCount - 1, 5, 1)
    const out = new Float32Array(places)
    fir(input, taps, out)
    for (let n = 0; n < places; n += Math.max(1, Math.floor(places / 97))) {
      let sum = 0
      for (let k = 0; k < tapCount; k++) sum += (input[n + k] as number) * (taps[k] as number)
      expect(Math.abs((out[n] as number) - sum)).toBeLessThan(1e-5 * tapCount)
    }
  })
})
