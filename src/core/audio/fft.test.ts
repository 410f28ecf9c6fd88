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

  // The compiled transform takes over from 64 on, and has a further stage for twice a power of four.
  it.each([64, 128, 1024, 2048, 65536, 131072])('is the same compiled and plain at size %i', (size) => {
    const compiled = { re: noise(size, 5), im: noise(size, 6) }
    const plain = { re: noise(size, 5), im: noise(size, 6) }
    new Fft(size).forward(compiled.re, compiled.im)
    new Fft(size, false).forward(plain.re, plain.im)
    let worst = 0
    for (let k = 0; k < size; k++)
      worst = Math.max(
        worst,
        Math.abs((compiled.re[k] as number) - (plain.re[k] as number)),
        Math.abs((compiled.im[k] as number) - (plain.im[k] as number)),
      )
    // Single precision against values of about sqrt(size).
    expect(worst).toBeLessThan(1e-5 * Math.sqrt(size))
  })

  it('keeps two transforms of one size apart', () => {
    const [first, second] = [new Fft(256), new Fft(256)]
    const alone = { re: noise(256, 7), im: noise(256, 8) }
    new Fft(256, false).forward(alone.re, alone.im)
    const re = noise(256, 7)
    const im = noise(256, 8)
    first.forward(re, im)
    second.forward(noise(256, 9), noise(256, 10))
    expect(Math.abs((re[17] as number) - (alone.re[17] as number))).toBeLessThan(1e-4)
  })

  it('puts a cosine into its two bins', () => {
    const size = 256
    const re = new Float32Array(size).map((_, n) => Math.cos((2 * Math.PI * 10 * n) / size))
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

describe('two frames of a sound', () => {
  const size = 128
  const window = noise(size, 21)
  const sound = noise(300, 22)
  /** A frame by the definition: silence outside of the sound, each value by the window's. */
  const frame = (start: number): Float32Array =>
    Float32Array.from({ length: size }, (_, n) => (sound[start + n] ?? 0) * (window[n] as number))
  const spectrumOf = (start: number) => plainTransform(frame(start), new Float32Array(size))

  it.each([
    ['within it', 20, 75],
    ['from before its start to within', -60, 4],
    ['from within to behind its end', 172, 227],
    ['of which the second lies behind its end', 250, 305],
  ])('%s are transformed as one, compiled and plain', (_where, first, second) => {
    const [one, other] = [spectrumOf(first), spectrumOf(second)]
    for (const compiled of [true, false]) {
      const [re, im] = [noise(size, 23), noise(size, 24)]
      new Fft(size, compiled).forwardFrames(re, im, sound, { first, second, window })
      for (let k = 0; k < size; k++) {
        expect(re[k]).toBeCloseTo((one.re[k] as number) - (other.im[k] as number), 3)
        expect(im[k]).toBeCloseTo((one.im[k] as number) + (other.re[k] as number), 3)
      }
    }
  })

  it.each([
    ['two', 20, 75],
    ['one alone', 20, null],
    ['two outside of the sound', 400, -200],
  ] as const)('give the powers of their spectra, from the mean to the highest: %s', (_which, first, second) => {
    const expected = [first, second].map((start) => (start === null ? null : spectrumOf(start)))
    for (const compiled of [true, false]) {
      const powers = [noise(size / 2 + 1, 25), noise(size / 2 + 1, 26)] as const
      new Fft(size, compiled).framePowers(...powers, sound, { first, second, window })
      for (const at of [0, 1] as const)
        for (let k = 0; k <= size / 2; k++) {
          const power = (expected[at]?.re[k] ?? 0) ** 2 + (expected[at]?.im[k] ?? 0) ** 2
          expect(powers[at][k]).toBeCloseTo(power, 2)
        }
    }
  })

  it('leave nothing of themselves for the next two, and the sound as it was', () => {
    const before = sound.slice()
    const fft = new Fft(size)
    const powers = [new Float32Array(size / 2 + 1), new Float32Array(size / 2 + 1)] as const
    fft.framePowers(...powers, sound, { first: 0, second: 64, window })
    fft.framePowers(...powers, sound, { first: -500, second: null, window })
    expect([...powers[0], ...powers[1]].every((power) => power === 0)).toBe(true)
    expect(sound).toEqual(before)
  })
})
