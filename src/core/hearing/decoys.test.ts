import { describe, expect, it } from 'vitest'
import { effect, noise, rms } from '../../../test/signals'
import { Fft } from '../audio'
import { effectiveLengthS } from './click'
import { decoyIndices, decoyOf } from './decoys'
import { type PreparedSound, preparedSound } from './prepare'

describe('decoyIndices', () => {
  it('takes all of a few, and 24 spread over many', () => {
    expect(decoyIndices(0)).toEqual([])
    expect(decoyIndices(3)).toEqual([0, 1, 2])
    const many = decoyIndices(1000)
    expect(many).toHaveLength(24)
    expect(new Set(many).size).toBe(24)
    expect(Math.min(...many)).toBeLessThan(42)
    expect(Math.max(...many)).toBeGreaterThan(957)
  })
})

/** How much one sound answers to another at its best: the highest normalised correlation of their first pieces. */
function answer(one: PreparedSound, other: PreparedSound): number {
  const [a, b] = [one, other].map(({ pieces }) => spectrumOf(pieces[0]?.samples as Float32Array)) as [
    Spectrum,
    Spectrum,
  ]
  const re = a.re.map((value, k) => value * (b.re[k] as number) + (a.im[k] as number) * (b.im[k] as number))
  const im = a.im.map((value, k) => value * (b.re[k] as number) - (a.re[k] as number) * (b.im[k] as number))
  new Fft(SPAN).inverse(re, im)
  return re.reduce((best, value) => Math.max(best, Math.abs(value) / SPAN), 0)
}

/** Room for two pieces of a second at every displacement. */
const SPAN = 32768

type Spectrum = { readonly re: Float32Array; readonly im: Float32Array }

function spectrumOf(samples: Float32Array): Spectrum {
  expect(samples.length).toBeLessThanOrEqual(SPAN / 2)
  const [re, im] = [new Float32Array(SPAN), new Float32Array(SPAN)]
  re.set(samples)
  new Fft(SPAN).forward(re, im)
  return { re, im }
}

const made = (lengthS: number, sampleAt: (t: number, n: number) => number): PreparedSound =>
  preparedSound(new Float32Array(lengthS * 16000).map((_, n) => sampleAt(n / 16000, n))) as PreparedSound

describe('decoyOf', () => {
  it('is the sound backwards, piece for piece', () => {
    const sound = preparedSound(effect({ length: 40000, rateHz: 16000, seed: 4 })) as PreparedSound
    const decoy = decoyOf(sound)
    expect(decoy.samples[0]).toBe(sound.samples[39999])
    for (const [k, piece] of sound.pieces.entries()) {
      const turned = decoy.pieces[k] as (typeof sound.pieces)[number]
      expect(turned.start + turned.samples.length + piece.start).toBe(40000)
      expect([...turned.samples].reverse()).toEqual([...piece.samples])
    }
    expect(sound.samples[0]).not.toBe(decoy.samples[0])
    expect(answer(sound, decoy)).toBeLessThan(0.3)
  })

  it.each([
    ['low', 440, true],
    ['high', 5200, false],
  ] as const)('is at another pitch for a tone, which would answer to itself backwards (%s)', (_name, hz, isShorter) => {
    const tone = made(0.8, (t) => Math.sin(2 * Math.PI * hz * t) * Math.exp(-t / 0.3))
    const turned = {
      ...tone,
      pieces: tone.pieces.map((piece) => ({ ...piece, samples: piece.samples.slice().reverse() })),
    }
    expect(answer(tone, turned)).toBeGreaterThan(0.7)
    const decoy = decoyOf(tone)
    expect(answer(tone, decoy)).toBeLessThan(0.2)
    expect(decoy.samples.length < tone.samples.length).toBe(isShorter)
    // It falls as the sound does: the beginning is the loudest.
    const tenth = Math.floor(decoy.samples.length / 10)
    const levelAt = (tenths: number): number => rms(decoy.samples, tenths * tenth, (tenths + 1) * tenth)
    expect(levelAt(0)).toBeGreaterThan(3 * levelAt(8))
    expect(decoy.marks).toHaveLength(0)
  })

  it('is out of step for a click, and as short', () => {
    const grain = noise(16000, 3)
    const click = made(0.3, (t, n) => (grain[n] as number) * Math.exp(-t / 0.004))
    const decoy = decoyOf(click)
    expect(answer(click, decoy)).toBeLessThan(0.3)
    expect(answer(click, click)).toBeCloseTo(1, 3)
    expect(effectiveLengthS(decoy)).toBeLessThan(0.04)
    // Nothing of it is lost.
    const energy = ({ samples }: PreparedSound): number => samples.length * rms(samples) ** 2
    expect(energy(decoy) / energy(click)).toBeCloseTo(1, 2)
  })
})
