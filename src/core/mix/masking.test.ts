import { describe, expect, test } from 'vitest'
import { noise } from '../../../test/signals'
import { EMPTY_SCORE, NEW_DUCK, newLayer, newPlacement, type Placement, type Score } from '../score'
import { maskingOf } from './masking'
import { memorySource } from './pcm'
import { type OverVoice, placedMasking, placedOverVoice } from './placed-masking'

const RATE_HZ = 48_000
const SPEECH = [{ startS: 10, endS: 14 }]

/** Noise that has the more the lower: as voices have. */
function voiceLike(seed: number, lengthS: number): Float32Array {
  const samples = noise(lengthS * RATE_HZ, seed, 0.1)
  let last = 0
  for (let n = 0; n < samples.length; n++) {
    last = 0.9 * last + 0.1 * (samples[n] as number)
    samples[n] = last
  }
  return samples
}

const VOICE = { samples: voiceLike(1, 6), startS: 9 }
const times = (samples: Float32Array, db: number): Float32Array => samples.map((one) => one * 10 ** (db / 20))
const soundAt = (db: number, startS = 11, lengthS = 1) => ({ samples: times(voiceLike(2, lengthS), db), startS })
const lostAt = (db: number): number => maskingOf(soundAt(db), VOICE, SPEECH, RATE_HZ).speechLostFraction as number

/** A tone with its overtones left out. */
function tone(hz: number, db: number, lengthS = 1): Float32Array {
  const samples = new Float32Array(lengthS * RATE_HZ).map((_, n) => Math.sin((2 * Math.PI * hz * n) / RATE_HZ))
  return times(samples, db)
}

describe('speech under a sound', () => {
  test('is lost by half where both are as loud, by all far below, and not at all far above', () => {
    // What reaches from band to band adds a little.
    expect(lostAt(0)).toBeGreaterThan(0.5)
    expect(lostAt(0)).toBeLessThan(0.65)
    expect(lostAt(20)).toBeCloseTo(1, 2)
    expect(lostAt(-25)).toBeLessThan(0.01)
  })

  test('is lost the more the louder the sound is', () => {
    const lost = [-20, -12, -6, 0, 6, 12].map(lostAt)
    for (const [at, one] of lost.entries()) if (at > 0) expect(one).toBeGreaterThan(lost[at - 1] as number)
  })

  test('is hardly lost under a rumble below its bands, or a whistle in one of them, that are much louder', () => {
    const under = (samples: Float32Array) =>
      maskingOf({ samples, startS: 11 }, VOICE, SPEECH, RATE_HZ).speechLostFraction as number
    expect(under(tone(40, -6))).toBeLessThan(0.1)
    expect(under(tone(6000, -40))).toBeLessThan(0.3)
    // The same whistle where speech lives takes more of it: it covers what lies above.
    expect(under(tone(600, -20))).toBeGreaterThan(under(tone(6000, -40)))
  })

  test('is named where it is hardly understood, and only there', () => {
    const sound = new Float32Array(3 * RATE_HZ)
    sound.set(times(voiceLike(3, 1), 18), RATE_HZ)
    const { speechLost } = maskingOf({ samples: sound, startS: 10.5 }, VOICE, SPEECH, RATE_HZ)
    expect(speechLost).toHaveLength(1)
    expect(speechLost[0]?.startS).toBeCloseTo(11.5, 0)
    expect(Math.abs((speechLost[0]?.startS ?? 0) - 11.5)).toBeLessThan(0.12)
    expect(Math.abs((speechLost[0]?.endS ?? 0) - 12.5)).toBeLessThan(0.12)
    expect(maskingOf(soundAt(-12), VOICE, SPEECH, RATE_HZ).speechLost).toEqual([])
  })

  test('is nothing that is said where nobody speaks, however loud it is there', () => {
    expect(maskingOf(soundAt(30, 14.2, 0.5), VOICE, SPEECH, RATE_HZ)).toEqual({
      speechLostFraction: null,
      speechLost: [],
      soundLostFraction: null,
    })
    expect(maskingOf(soundAt(30), VOICE, [], RATE_HZ).speechLostFraction).toBeNull()
    const silent = { samples: new Float32Array(6 * RATE_HZ), startS: 9 }
    expect(maskingOf(soundAt(0), silent, SPEECH, RATE_HZ).speechLostFraction).toBeNull()
  })
})

describe('a sound under speech', () => {
  const unheard = (samples: Float32Array): number =>
    maskingOf({ samples, startS: 11 }, VOICE, SPEECH, RATE_HZ).soundLostFraction as number

  test('is lost far below it, and not above it', () => {
    expect(unheard(times(voiceLike(2, 1), -40))).toBeGreaterThan(0.95)
    expect(unheard(times(voiceLike(2, 1), 6))).toBe(0)
  })

  test('is heard in a band that the voice leaves free, though it is much softer than the voice', () => {
    const low = new Float32Array(6 * RATE_HZ).map((_, n) => 0.2 * Math.sin((2 * Math.PI * 150 * n) / RATE_HZ))
    const whistle = { samples: tone(5000, -46), startS: 11 }
    expect(maskingOf(whistle, { samples: low, startS: 9 }, SPEECH, RATE_HZ).soundLostFraction).toBe(0)
  })

  test('is counted over its whole length: what sounds before the speech is heard', () => {
    const sound = { samples: times(voiceLike(2, 2), -40), startS: 9 }
    const { soundLostFraction } = maskingOf(sound, VOICE, SPEECH, RATE_HZ)
    expect(soundLostFraction).toBeGreaterThan(0.4)
    expect(soundLostFraction).toBeLessThan(0.6)
  })

  test('that is silent is not lost', () => {
    expect(unheard(new Float32Array(RATE_HZ))).toBe(0)
  })

  test('that is shorter than a frame is still one', () => {
    expect(unheard(times(voiceLike(2, 1), 0).slice(0, 500))).toBe(0)
  })
})

describe('placed sounds over the voice', () => {
  const layer = newLayer('fx', 'Effects', 'effects')
  const at = (id: string, startS: number, lengthS: number, more: Partial<Placement> = {}) =>
    newPlacement(id, { layerId: 'fx', audio: { kind: 'preview', soundId: 1 }, startS, toS: lengthS }, more)
  const scoreOf = (placements: readonly Placement[], layers = [layer]): Score => ({
    ...EMPTY_SCORE,
    layers,
    placements,
  })
  const ids = (score: Score) => placedOverVoice(score, SPEECH).map(({ placement }) => placement.id)

  test('are those that are heard while somebody speaks', () => {
    const muted = at('muted', 11, 1, { isMuted: true })
    const score = scoreOf([at('before', 8, 2), at('into', 9.5, 1), at('within', 11, 1), at('after', 14, 1), muted])
    expect(ids(score)).toEqual(['into', 'within'])
    expect(ids(scoreOf(score.placements, [{ ...layer, isMuted: true }]))).toEqual([])
    // A voice that is placed is what is said, and covers nothing.
    expect(ids(scoreOf(score.placements, [{ ...layer, role: 'voice' }]))).toEqual([])
    expect(ids(scoreOf([at('lost', 11, 1)], []))).toEqual([])
  })

  test('that are long are looked at from shortly before the speech, and not for ever', () => {
    const [bed] = placedOverVoice(scoreOf([at('bed', 0, 3600)]), SPEECH)
    expect(bed).toMatchObject({ range: { startS: 9, endS: 129 }, isCutShort: false })
    // Somebody speaks over the rest of it too: that has to be told.
    const later = [...SPEECH, { startS: 500, endS: 510 }]
    expect(placedOverVoice(scoreOf([at('bed', 0, 3600)]), later)[0]).toMatchObject({ isCutShort: true })
    expect(placedOverVoice(scoreOf([at('short', 0, 100)]), later)[0]).toMatchObject({ isCutShort: false })
  })

  test('are held against it as they are in the mix: by their level, their layer and where that goes down', () => {
    const lost = (level: { gainDb?: number; levelDb?: number; duckDb?: number }) => {
      const { gainDb = 0, levelDb = 0, duckDb = 0 } = level
      const duck = duckDb > 0 ? { ...NEW_DUCK, depthDb: duckDb } : null
      const [one] = placedOverVoice(scoreOf([at('p', 11, 1, { gainDb })], [{ ...layer, levelDb, duck }]), SPEECH)
      const source = memorySource([voiceLike(2, 1)], RATE_HZ)
      return placedMasking(one as OverVoice, source, VOICE, SPEECH, RATE_HZ).speechLostFraction as number
    }
    expect(lost({ gainDb: 9 })).toBeCloseTo(lost({ levelDb: 9 }), 6)
    expect(lost({ gainDb: -12 })).toBeLessThan(lost({}))
    // Down by 12 dB before anybody speaks.
    expect(lost({ duckDb: 12 })).toBeCloseTo(lost({ gainDb: -12 }), 3)
  })
})
