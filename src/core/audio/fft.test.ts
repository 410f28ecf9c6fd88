import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { Fft } from './fft'

/** The definition, slow and plain. */
function plainTransform(re: Float32Array, im: Float32Array): { re: number[]; im: number[] } {
  const size = re.length
  const out = { re: new Array<number>(size).fill(0), im: new Array<number>(size).fill(0) }
  for (let k = 0; k < size; k++)
    for (let n = 0; n < size; n++) {
      const angle = (-2 * Math.PI * k * n) / size
      const [xr, xi] = [re[n] as number, im[n] as number]
      out.re[k] = (out.re[k] as number) + xr * Math.cos(angle) - xi * Math.sin(angle)
      out.im[k] = (out.im[k] as number) + xr * Math.sin(angle) + xi * Math.cos(angle)
    }
  return out
}

describe('Fft', () => {
  // Both kinds of size: pure powers of four, and those that end with a radix-2 stage.
  it.each([4, 8, 16, 32, 128, 256])('agrees with the definition at size %i', (size) => {
    const re = noise(size, 1)
    const im = noise(size, 2)
    const expected = plainTransform(re, im)
    new Fft(size).forward(re, im)
    for (let k = 0; k < size; k++) {
      // Single precision over log2(size) stages.
      expect(re[k]).toBeCloseTo(expected.re[k] as number, 3)
      expect(im[k]).toBeCloseTo(expected.im[k] as number, 3)
    }
  })

  it.each([64, 512, 65536])('gives the input back, times its size, at %i', (size) => {
    const fft = new Fft(size)
    const original = noise(size, 3)
    const re = original.slice()
    const im = new Float32Array(size)
    fft.forward(re, im)
    fft.inverse(re, im)
    let worst = 0
    for (let n = 0; n < size; n++)
      worst = Math.max(
        worst,
        Math.abs((re[n] as number) / size - (original[n] as number)),
        Math.abs((im[n] as number) / size),
      )
    expect(worst).toBeLessThan(1e-5)
  })

  it('puts a cosine into its two bins', () => {
    const size = 256
    const re = Float32Array.from({ length: size }, (_, n) => Math.cos((2 * Math.PI * 10 * n) / size))
    const im = new Float32Array(size)
    new Fft(size).forward(re, im)
    expect(re[10]).toBeCloseTo(size / 2, 2)
    expect(re[size - 10]).toBeCloseTo(size / 2, 2)
    const rest = re.reduce((sum, value, k) => (k === 10 || k === size - 10 ? sum : sum + Math.abs(value)), 0)
    expect(rest).toBeLessThan(0.01)
  })

  it.each([0, 2, 3, 48, 1000])('refuses size %i', (size) => {
    expect(() => new Fft(size)).toThrow(RangeError)
  })
})
