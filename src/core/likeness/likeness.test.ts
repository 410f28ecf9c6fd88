import { describe, expect, it } from 'vitest'
import { DEMO_SOUNDS } from '../../../demo/synthesis/catalogue'
import { Chance, finished, RATE_HZ } from '../../../demo/synthesis/toolkit'
import { canLoop } from '../audio'
import { alikeFraction, LIKENESS_LENGTH, likenessOf, type Traits, traitDifferences } from './index'

function tone(hz: number, durationS: number, rateHz = 48000, envelope: (s: number) => number = () => 1): Float32Array {
  return new Float32Array(Math.round(durationS * rateHz)).map((_, at) => {
    return 0.5 * envelope(at / rateHz) * Math.sin((2 * Math.PI * hz * at) / rateHz)
  })
}

function dot(a: Float32Array, b: Float32Array): number {
  return a.reduce((sum, value, at) => sum + value * (b[at] as number), 0)
}

function vectorOf(samples: Float32Array, rateHz = 48000): Float32Array {
  const likeness = likenessOf(samples, rateHz)
  if (!likeness) throw new Error('silence')
  return likeness.vector
}

describe('likenessOf', () => {
  it('is null for silence and for nothing', () => {
    expect(likenessOf(new Float32Array(4800), 48000)).toBeNull()
    expect(likenessOf(new Float32Array(0), 48000)).toBeNull()
  })

  it.each([1, 100, 48000])('gives a vector of length 1 for %i frames', (length) => {
    const vector = vectorOf(tone(440, 1).subarray(100, 100 + length))
    expect(vector).toHaveLength(LIKENESS_LENGTH)
    expect(Math.hypot(...vector)).toBeCloseTo(1, 5)
    expect(vector.every(Number.isFinite)).toBe(true)
  })

  it('does not mind the level', () => {
    const loud = tone(700, 0.8)
    expect(dot(vectorOf(loud), vectorOf(loud.map((sample) => sample * 0.05)))).toBeGreaterThan(0.999)
  })

  it('hardly minds the sample rate', () => {
    expect(dot(vectorOf(tone(700, 0.8)), vectorOf(tone(700, 0.8, 44100), 44100))).toBeGreaterThan(0.98)
  })

  it('tells tones apart, the farther the more', () => {
    const [base, near, far] = [400, 450, 4000].map((hz) => vectorOf(tone(hz, 1))) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ]
    expect(dot(base, near)).toBeGreaterThan(dot(base, far))
  })
})

describe('another take of the same recipe', () => {
  // One sound in nine of the demo catalogue, so that all families are there and the test stays short.
  const sounds = DEMO_SOUNDS.filter((sound, at) => !sound.sameAs && sound.category !== 'Music' && at % 9 === 0)

  function take(sound: (typeof sounds)[number], seed: number): Float32Array {
    return finished(sound.recipe(new Chance(seed), ...sound.numbers))[0] as Float32Array
  }

  it('is among the five nearest for nine of ten', { tags: 'long' }, () => {
    const vectors = sounds.map((sound, at) => vectorOf(take(sound, at + 1), RATE_HZ))
    // Every second one is enough to tell, among all of them.
    const asked = sounds.filter((_, at) => at % 2 === 0)
    const found = asked.filter((sound) => {
      const at = sounds.indexOf(sound)
      const own = vectorOf(take(sound, 9000 + at), RATE_HZ)
      const nearest = vectors.map((vector, index) => [dot(own, vector), index] as const).sort((a, b) => b[0] - a[0])
      return nearest.slice(0, 5).some(([, index]) => index === at)
    })
    expect(found.length / asked.length).toBeGreaterThanOrEqual(0.9)
  })
})

describe('what differs in words', () => {
  const base: Traits = { durationS: 1, brightnessHz: 1000, attackS: 0.02, decayS: 0.4, noisiness: 0.5, lowShare: 0.1 }

  it.each([
    [{ durationS: 1.4 }, ['0.4 s longer']],
    [{ durationS: 0.5 }, ['0.5 s shorter']],
    [{ brightnessHz: 2100 }, ['brighter']],
    [{ brightnessHz: 500 }, ['darker']],
    [{ attackS: 0.3 }, ['slower attack']],
    [{ decayS: 0.1 }, ['ends sooner']],
    [{ decayS: 1.5 }, ['rings longer']],
    [{ noisiness: 0.9 }, ['noisier']],
    [{ noisiness: 0.1 }, ['more tonal']],
    [{ lowShare: 0.7 }, ['more low end']],
    [{ durationS: 1.05, brightnessHz: 1100 }, []],
  ])('%j', (change, words) => {
    expect(traitDifferences({ ...base, ...change }, base)).toEqual(words)
  })

  it('are at most four, the greatest first', () => {
    const other = { durationS: 9, brightnessHz: 8000, attackS: 1, decayS: 4, noisiness: 1, lowShare: 0.9 }
    const words = traitDifferences(other, base)
    expect(words).toHaveLength(4)
    expect(words[0]).toBe('brighter')
  })

  it('come from what is heard', () => {
    const short = likenessOf(
      tone(300, 0.5, 48000, (s) => Math.exp(-12 * s)),
      48000,
    )?.traits as Traits
    const slow = likenessOf(
      tone(3000, 1.2, 48000, (s) => s / 1.2),
      48000,
    )?.traits as Traits
    expect(traitDifferences(slow, short)).toEqual(expect.arrayContaining(['brighter', '0.7 s longer', 'slower attack']))
    expect(short.brightnessHz).toBeGreaterThan(200)
    expect(short.brightnessHz).toBeLessThan(450)
  })
})

describe('alikeFraction', () => {
  it.each([
    [1, 1],
    [1.0001, 1],
    [Math.cos(Math.PI / 6), 0.5],
    [0.5, 0],
    [-1, 0],
  ])('%f is %f', (cosine, fraction) => {
    expect(alikeFraction(cosine)).toBeCloseTo(fraction, 6)
  })
})

describe('canLoop', () => {
  it('is so for what is the same throughout, and not for what hits, fades, is short or silent', () => {
    expect(canLoop(tone(200, 2), 48000)).toBe(true)
    expect(
      canLoop(
        tone(200, 2, 48000, (s) => Math.exp(-3 * s)),
        48000,
      ),
    ).toBe(false)
    expect(
      canLoop(
        tone(200, 2, 48000, (s) => Math.min(1, s)),
        48000,
      ),
    ).toBe(false)
    expect(canLoop(tone(200, 0.3), 48000)).toBe(false)
    expect(canLoop(new Float32Array(96000), 48000)).toBe(false)
  })

  it('is not so where the ends differ in pitch', () => {
    const both = Float32Array.from([...tone(200, 1), ...tone(900, 1)])
    expect(canLoop(both, 48000)).toBe(false)
  })
})
