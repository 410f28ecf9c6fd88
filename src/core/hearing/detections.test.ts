import { describe, expect, it } from 'vitest'
import { effect } from '../../../test/signals'
import { certaintyOf } from './certainty'
import { falsePositiveModel, PRIOR_FALSE_POSITIVE_RATE } from './confidence'
import { type Detection, finalDetections } from './detections'
import { preparedSound } from './prepare'
import type { RawDetection } from './search'

const SOUNDS = [3, 9].map((seed) => preparedSound(effect({ length: 16000, rateHz: 16000, seed })))

function find(soundIndex: number, lag: number, score: number, more: Partial<RawDetection> = {}): RawDetection {
  const plain = { balance: 0, fadeIn: 0, fadeOut: 0, cutoffHz: null, echoes: 1, coherence: score, evidence: 10 * score }
  return { soundIndex, lag, from: 0, to: 16000, gain: 1, score, ...plain, ...more }
}

function final(raw: readonly RawDetection[], more: { shortlist?: Set<number>; soundCount?: number } = {}): Detection[] {
  return finalDetections(raw, SOUNDS, {
    durationS: 600,
    soundCount: 2,
    chance: PRIOR_FALSE_POSITIVE_RATE,
    groups: [],
    ...more,
  })
}

describe('finalDetections', () => {
  it('gives places in seconds, level in dB and the treatment', () => {
    const [plain, muffled] = final([
      find(0, 32000, 30, { from: 1600, to: 8000, gain: 0.5, fadeIn: 3200 }),
      find(1, 80000, 30, { cutoffHz: 1500, balance: -0.5 }),
    ])
    expect(plain).toMatchObject({ startS: 2.1, endS: 2.5, fromS: 0.1, toS: 0.5, speed: 1, treatment: 'as-is' })
    expect(plain?.gainDb).toBeCloseTo(-6.02, 2)
    expect(plain?.fadeInS).toBeCloseTo(0.2, 9)
    expect(muffled).toMatchObject({ treatment: 'muffled', cutoffHz: 1500, balance: -0.5 })
  })

  it('says that a sound is in a room when it echoes, muffled or not', () => {
    const [room, both] = final([
      find(0, 32000, 30, { echoes: 1.6 }),
      find(1, 80000, 30, { echoes: 1.6, cutoffHz: 1500 }),
    ])
    expect(room?.treatment).toBe('room')
    expect(both).toMatchObject({ treatment: 'room', cutoffHz: null })
  })

  it('counts a sped-up part in the time of the track, and stays within the track', () => {
    const [sped] = final([find(0, 16000, 30, { speed: 1.25, treatment: 'speed' })])
    expect(sped?.endS).toBeCloseTo(1 + 1 / 1.25, 9)
    const [late] = final([find(0, 599.5 * 16000, 30)])
    expect(late?.endS).toBe(600)
  })

  it('says what was heard in the side, and calls a tone there possible unless it stands far out', () => {
    const tone = preparedSound(new Float32Array(16000).map((_, n) => Math.sin(0.3 * n) * Math.exp(-n / 8000)))
    const settled = (soundIndex: number, score: number, more: Partial<RawDetection>): Detection | undefined =>
      finalDetections([find(soundIndex, 16000, score, more)], [SOUNDS[0] ?? null, tone], {
        durationS: 600,
        soundCount: 2,
        chance: PRIOR_FALSE_POSITIVE_RATE,
        groups: [],
      })[0]
    const inSide = { inSide: true } as const
    const words = (one: Detection | undefined) => one && [one.inSide, certaintyOf(one.confidence)]
    expect(words(settled(1, 11.4, inSide))).toEqual([true, 'possible'])
    expect(words(settled(1, 13, inSide))).toEqual([true, 'certain'])
    expect(words(settled(0, 11.4, inSide))).toEqual([true, 'certain'])
    expect(words(settled(1, 11.4, {}))).toEqual([undefined, 'certain'])
  })

  it('calls a tone at another speed possible, however well it answers: it is as good as another tone', () => {
    const tone = preparedSound(new Float32Array(16000).map((_, n) => Math.sin(0.3 * n) * Math.exp(-n / 8000)))
    const settled = (soundIndex: number, more: Partial<RawDetection>): Detection | undefined =>
      finalDetections([find(soundIndex, 16000, 40, more)], [SOUNDS[0] ?? null, tone], {
        durationS: 600,
        soundCount: 2,
        chance: PRIOR_FALSE_POSITIVE_RATE,
        groups: [],
      })[0]
    const certainty = (soundIndex: number, more: Partial<RawDetection>) =>
      certaintyOf(settled(soundIndex, more)?.confidence ?? 0)
    expect(certainty(1, { treatment: 'speed', speed: 1.1 })).toBe('possible')
    expect(settled(1, { treatment: 'speed', speed: 1.1 })?.score).toBe(40)
    expect(certainty(1, {})).toBe('certain')
    expect(certainty(0, { treatment: 'speed', speed: 1.1 })).toBe('certain')
    // It never says more than what was heard does.
    expect(settled(1, { treatment: 'speed', speed: 1.1, score: 7.6 })?.confidence).toBeLessThanOrEqual(0.85)
  })

  it('is not certain of a click that its relatives answer to as well, and of one in a list only says that it is possible', () => {
    const tick = (length: number) =>
      preparedSound(effect({ length: 4800, rateHz: 16000, seed: 5 }).map((v, n) => v * Math.exp(-n / length)))
    // A few milliseconds, and a few hundredths of a second.
    const sounds = [tick(40), tick(900)]
    const certainty = (soundIndex: number, score: number, shortlist: number[] = []) => {
      const settings = { durationS: 600, soundCount: 2, chance: PRIOR_FALSE_POSITIVE_RATE, groups: [] }
      const shortlisted = new Set(shortlist)
      const part = find(soundIndex, 16000, score, { to: 4800 })
      const [one] = finalDetections([part], sounds, { ...settings, shortlist: shortlisted })
      return certaintyOf(one?.confidence ?? 0)
    }
    expect(certainty(0, 11)).toBe('possible')
    expect(certainty(0, 11, [0])).toBe('very likely')
    expect(certainty(0, 13)).toBe('certain')
    expect(certainty(1, 11)).toBe('certain')
    // Nothing is believed more for being a click.
    expect(certainty(0, 7.5, [0])).toBe(certainty(1, 7.5, [1]))
  })

  it('believes what was looked up at another speed less where decoys answer to that, and nothing else', () => {
    const restless = { chanceAtSpeeds: falsePositiveModel([8, 9, 9.5], 7, 240) }
    const sped = { treatment: 'speed', speed: 1.1 } as const
    const confidenceOf = (more: Partial<RawDetection>, settings: object): number =>
      finalDetections([find(0, 16000, 10, more)], SOUNDS, {
        durationS: 600,
        soundCount: 500,
        chance: PRIOR_FALSE_POSITIVE_RATE,
        groups: [],
        ...settings,
      })[0]?.confidence ?? 0
    expect(confidenceOf(sped, restless)).toBeLessThan(confidenceOf(sped, {}) - 0.05)
    expect(confidenceOf({}, restless)).toBe(confidenceOf({}, {}))
    // Grains were answered to by the plain search.
    const kept = { treatment: 'speed-pitch-kept', speed: 1.1 } as const
    expect(confidenceOf(kept, restless)).toBe(confidenceOf(kept, {}))
    // One with papers was searched for in full.
    const shortlist = new Set([0])
    expect(confidenceOf(sped, { ...restless, shortlist })).toBe(confidenceOf(sped, { shortlist }))
  })

  it('leaves out what is more likely chance, which depends on how many were listened for', () => {
    const raw = [find(0, 0, 9)]
    expect(final(raw)).toHaveLength(1)
    expect(final(raw, { soundCount: 20000 })).toHaveLength(0)
    expect(final(raw, { soundCount: 20000, shortlist: new Set([0]) })).toHaveLength(1)
  })
})

describe('certaintyOf', () => {
  it.each([
    [1, 'certain'],
    [0.995, 'certain'],
    [0.99, 'very likely'],
    [0.9, 'very likely'],
    [0.89, 'possible'],
    [0.5, 'possible'],
  ])('says of %d: %s', (confidence, word) => {
    expect(certaintyOf(confidence)).toBe(word)
  })
})
