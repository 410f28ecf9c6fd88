import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { Mixer, memorySource } from '../mix'
import { assemblyLengthS, EMPTY_SCORE, newLayer, newPlacement, type Placement, scoreWithEdit } from '../score'
import { type FittedLength, fitLength } from './fit-length'
import { spectraOf } from './spectra'
import { steadyPart } from './steady-part'

const RATE_HZ = 16_000

function noise(lengthS: number, seed: number, colour = 0.9): Float32Array {
  let state = seed
  let low = 0
  return new Float32Array(Math.round(lengthS * RATE_HZ)).map(() => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    low = colour * low + (1 - colour) * (state / 2 ** 31)
    return 0.5 * low
  })
}

/** A hum with harmonics, which cancels where its phase does not go on. */
function hum(hz: number, lengthS: number): Float32Array {
  return new Float32Array(Math.round(lengthS * RATE_HZ)).map((_, n) => {
    const angle = (2 * Math.PI * hz * n) / RATE_HZ
    return 0.2 * Math.sin(angle) + 0.1 * Math.sin(2 * angle) + 0.05 * Math.sin(5 * angle)
  })
}

/** A machine that is switched on with a clack, runs, and dies away. */
function machine(runsS: number): Float32Array {
  const samples = new Float32Array(Math.round((runsS + 2) * RATE_HZ))
  const body = hum(90, runsS + 2)
  const hiss = noise(runsS + 2, 5)
  for (let n = 0; n < samples.length; n++) {
    const atS = n / RATE_HZ
    const level = atS < 0.5 ? atS * 2 : atS < runsS + 0.5 ? 1 : Math.exp(-(atS - runsS - 0.5) * 4)
    samples[n] = level * ((body[n] as number) + 0.2 * (hiss[n] as number))
  }
  for (let n = 0; n < 400; n++) samples[n] = (samples[n] as number) + 0.8 * Math.exp(-n / 80) * Math.sin(n)
  return samples
}

const brought = (samples: Float32Array, wantedS: number, barS: number | null = null): FittedLength =>
  fitLength({ samples, sampleRateHz: RATE_HZ, fromS: 0, toS: samples.length / RATE_HZ, wantedS, barS }) as FittedLength

/** What is heard of a fitted sound, by the mixer. */
function heard(samples: Float32Array, { pieces }: FittedLength): Float32Array {
  const placement: Placement = newPlacement(
    'p',
    { layerId: 'l', audio: { kind: 'preview', soundId: 1 }, startS: 0, toS: samples.length / RATE_HZ },
    { assembly: pieces },
  )
  const layered = { ...EMPTY_SCORE, layers: [newLayer('l', 'Ambience', 'ambience')] }
  // Refused if two seams met, or a piece were empty.
  const score = scoreWithEdit(layered, { do: 'add', placements: [placement] }).document
  const sources = new Map([['sound-1', memorySource([samples, samples], RATE_HZ)]])
  const mixer = new Mixer({ score, sources, speech: [], sampleRateHz: RATE_HZ })
  const [left, right] = [new Float32Array(mixer.lengthFrames), new Float32Array(mixer.lengthFrames)]
  mixer.render(0, left, right)
  return left
}

/** Levels of pieces of a twentieth of a second, dB. */
function levelsDb(samples: Float32Array): number[] {
  const piece = RATE_HZ / 20
  return Array.from({ length: Math.floor(samples.length / piece) }, (_, at) => {
    const part = samples.subarray(at * piece, (at + 1) * piece)
    return 10 * Math.log10(part.reduce((sum, value) => sum + value * value, 0) / piece + 1e-9)
  })
}

describe('the steady part', () => {
  test('of a machine lies between its start and its dying away', () => {
    const { startS, endS } = steadyPart(spectraOf(machine(4), RATE_HZ)) ?? { startS: 0, endS: 0 }
    expect(startS).toBeGreaterThan(0.05)
    expect(startS).toBeLessThan(0.8)
    expect(endS).toBeGreaterThan(4)
    expect(endS).toBeLessThan(4.9)
  })

  test('is not there in a knock, nor in silence', () => {
    const knock = new Float32Array(RATE_HZ).map((_, n) => Math.exp(-n / 300) * Math.sin(n))
    expect(steadyPart(spectraOf(knock, RATE_HZ))).toBeNull()
    expect(steadyPart(spectraOf(new Float32Array(RATE_HZ), RATE_HZ))).toBeNull()
  })
})

describe('a sound that is made longer', () => {
  test.each([8, 13.37, 47, 300])(
    '%s s of wind from six are exactly so long, and no seam is heard',
    { tags: 'long' },
    (wantedS) => {
      const wind = noise(6, 3)
      const result = brought(wind, wantedS)
      expect(result.lengthS).toBeCloseTo(wantedS, 4)
      expect(assemblyLengthS(result.pieces)).toBeCloseTo(wantedS, 4)
      expect(result.isGood).toBe(true)
      const levels = levelsDb(heard(wind, result))
      const own = levelsDb(wind)
      // Its level goes up and down no more than the wind itself does.
      expect(Math.max(...levels)).toBeLessThan(Math.max(...own) + 1.5)
      expect(Math.min(...levels)).toBeGreaterThan(Math.min(...own) - 1.5)
    },
  )

  test('a hum is joined in phase: nowhere does it cancel itself', () => {
    const tone = hum(73, 3)
    const result = brought(tone, 21.5)
    expect(result.lengthS).toBeCloseTo(21.5, 4)
    expect(result.isGood).toBe(true)
    const levels = levelsDb(heard(tone, result)).slice(0, -1)
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(3.5)
  })

  test('a machine starts once, runs on, and dies away once', () => {
    const source = machine(3)
    const result = brought(source, 15)
    const played = heard(source, result)
    expect(played.length / RATE_HZ).toBeCloseTo(15, 3)
    // The clack of its start comes once; its end is the end of the source.
    expect(played.slice(0, 400)).toEqual(source.slice(0, 400))
    const clacks = levelsDb(played).filter((db) => db > -8).length
    expect(clacks).toBeLessThanOrEqual(levelsDb(source).filter((db) => db > -8).length)
    const levels = levelsDb(played)
    expect(levels[levels.length - 1]).toBeLessThan(-40)
    expect(Math.min(...levels.slice(12, 270))).toBeGreaterThan(-25)
  })

  test('what changes all the time has no good seam, and that is said; the best is given all the same', () => {
    const sweep = new Float32Array(3 * RATE_HZ).map((_, n) => {
      const atS = n / RATE_HZ
      return 0.3 * Math.sin(2 * Math.PI * (200 * atS + 400 * atS * atS))
    })
    const result = brought(sweep, 9)
    expect(result.isGood).toBe(false)
    expect(result.quality).toBeLessThan(0.6)
    expect(result.lengthS).toBeCloseTo(9, 3)
  })

  test('music jumps by whole bars, and is as long as those make it', () => {
    const barS = 1.5
    const bar = noise(barS, 11, 0.5)
    const music = new Float32Array(8 * bar.length)
    for (let at = 0; at < 8; at++)
      for (let n = 0; n < bar.length; n++)
        music[at * bar.length + n] = (bar[n] as number) * Math.exp(-((n % (bar.length / 4)) / 900))
    const result = brought(music, 20, barS)
    expect((result.lengthS - 12) / barS).toBeCloseTo(Math.round((20 - 12) / barS), 6)
    expect(result.isGood).toBe(true)
    for (const [at, { fromS, seamS }] of result.pieces.entries()) {
      const before = result.pieces[at - 1]
      if (before) expect(((before.toS - seamS - fromS) / barS) % 1).toBeCloseTo(0, 6)
    }
  })
})

describe('a sound that is made shorter', () => {
  test('keeps its beginning and its end', () => {
    const source = machine(6)
    const played = heard(source, brought(source, 4))
    expect(played.length / RATE_HZ).toBeCloseTo(4, 3)
    expect(played.slice(0, 400)).toEqual(source.slice(0, 400))
    expect(levelsDb(played).at(-1)).toBeLessThan(-40)
  })

  test('a knock of a second has no room for ten milliseconds less than nothing', () => {
    const knock = new Float32Array(RATE_HZ / 4).map((_, n) => Math.exp(-n / 300) * Math.sin(n))
    const result = fitLength({ samples: knock, sampleRateHz: RATE_HZ, fromS: 0, toS: 0.25, wantedS: 0.24, barS: null })
    expect(result?.lengthS).toBeCloseTo(0.24, 6)
    expect(result?.pieces).toHaveLength(1)
  })
})

test('where a last jump that makes up for a loop has no room, a short one is made', { tags: 'long' }, () => {
  for (const wantedS of [3.3175, 5.248, 13.8995, 12.935]) {
    const result = brought(noise(1.2, 4), wantedS)
    expect(Math.abs(result.lengthS - wantedS)).toBeLessThan(0.05)
    expect(heard(noise(1.2, 4), result).length / RATE_HZ).toBeCloseTo(result.lengthS, 3)
  }
})

test('whatever is asked for, what comes can be placed and is as long as it says', { tags: 'long' }, () => {
  const sources = [noise(1.2, 4), hum(110, 2.5), machine(1.5), noise(0.4, 9)]
  fc.assert(
    fc.property(fc.constantFrom(...sources), fc.double({ min: 0.1, max: 60, noNaN: true }), (source, wantedS) => {
      const result = fitLength({
        samples: source,
        sampleRateHz: RATE_HZ,
        fromS: 0,
        toS: source.length / RATE_HZ,
        wantedS,
        barS: null,
      })
      if (!result) return
      expect(heard(source, result).length / RATE_HZ).toBeCloseTo(result.lengthS, 3)
      expect(Math.abs(result.lengthS - wantedS)).toBeLessThan(0.05)
    }),
    { numRuns: 40 },
  )
})
