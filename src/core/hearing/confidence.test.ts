import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { certaintyOf } from './certainty'
import {
  confidences,
  expectedFalse,
  falsePositiveModel,
  LOWEST_SCORE,
  PRIOR_FALSE_POSITIVE_RATE,
  scoreThreshold,
  soundMinutesOf,
} from './confidence'

describe('scoreThreshold', () => {
  it('rises with the number of sounds and with the length of the track', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 36000 }), (soundCount, durationS) => {
        const here = scoreThreshold({ soundCount, durationS })
        expect(scoreThreshold({ soundCount: soundCount * 2, durationS })).toBeGreaterThanOrEqual(here)
        expect(scoreThreshold({ soundCount, durationS: durationS * 2 })).toBeGreaterThanOrEqual(here)
      }),
    )
  })

  it('is half a point higher for twice as much, and never under what hard cuts reach', () => {
    const many = scoreThreshold({ soundCount: 8000, durationS: 600 })
    expect(scoreThreshold({ soundCount: 16000, durationS: 600 })).toBeCloseTo(many + 0.5, 9)
    expect(scoreThreshold({ soundCount: 1, durationS: 5 })).toBe(LOWEST_SCORE)
  })
})

describe('falsePositiveModel', () => {
  it('expects more false finds where decoys answered, and is what was expected before where none was listened for', () => {
    expect(falsePositiveModel([], 7.2, 0)).toEqual(PRIOR_FALSE_POSITIVE_RATE)
    expect(falsePositiveModel([], 7.2, 5000).falseRate).toBeLessThan(PRIOR_FALSE_POSITIVE_RATE.falseRate)
    expect(falsePositiveModel([7.5, 8], 7.2, 240).falseRate).toBeGreaterThan(PRIOR_FALSE_POSITIVE_RATE.falseRate)
    expect(falsePositiveModel([7.5, 8, 6.9], 7.2, 240)).toEqual(falsePositiveModel([7.5, 8], 7.2, 240))
  })

  it('comes close to the rate that decoys show when there are many', () => {
    const seen = Array.from({ length: 200 }, () => 7.6)
    const minutes = 1e6
    expect(expectedFalse(7.2, falsePositiveModel(seen, 7.2, minutes), minutes) / 200).toBeCloseTo(1, 1)
  })
})

function confidencesOf(scores: readonly number[], minutes: number, chance = PRIOR_FALSE_POSITIVE_RATE): number[] {
  return confidences(
    scores.map((score) => ({ score, chance })),
    minutes,
  )
}

describe('confidences', () => {
  const minutes = soundMinutesOf({ soundCount: 1000, durationS: 600 })

  it('is a half at the threshold for a find that stands alone', () => {
    const score = scoreThreshold({ soundCount: 1000, durationS: 600 })
    expect(confidencesOf([score], minutes)[0]).toBeCloseTo(0.5, 2)
  })

  it('grows with the score and stays within 0 and 1', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 5, max: 60, noNaN: true }), { maxLength: 30 }), (scores) => {
        const sorted = [...scores].sort((a, b) => a - b)
        const values = confidencesOf(sorted, minutes)
        values.forEach((value, i) => {
          expect(value).toBeGreaterThanOrEqual(i === 0 ? 0 : (values[i - 1] as number))
          expect(value).toBeLessThanOrEqual(1)
        })
      }),
    )
  })

  it('is never certain of what clicks and relatives have reached falsely, however many strong finds there are', () => {
    const strong = Array.from({ length: 100 }, () => 30)
    const few = soundMinutesOf({ soundCount: 5, durationS: 60 })
    for (const score of [LOWEST_SCORE, 9.2]) {
      const [value] = confidencesOf([score, ...strong], few) as [number]
      expect(value).toBeGreaterThan(0.9)
      expect(certaintyOf(value)).toBe('very likely')
    }
    expect(certaintyOf(confidencesOf([12, ...strong], few)[0] as number)).toBe('certain')
  })

  it('believes a weak find more in a track full of strong ones', () => {
    const alone = confidencesOf([9.2], minutes)[0] as number
    const among = confidencesOf([9.2, ...Array.from({ length: 40 }, () => 25)], minutes)[0] as number
    expect(among).toBeGreaterThan(alone)
  })

  it('believes it less in a track in which decoys answer', () => {
    const decoys = falsePositiveModel([8.4, 8.6, 9], 7.2, 240)
    expect(confidencesOf([9.2], minutes, decoys)[0]).toBeLessThan(confidencesOf([9.2], minutes)[0] as number)
  })

  it('weighs each find against chance in the search that it comes from', () => {
    const restless = falsePositiveModel([8.4, 8.6, 9], 7.2, 240)
    const [quiet, loud] = confidences(
      [
        { score: 9.4, chance: PRIOR_FALSE_POSITIVE_RATE },
        { score: 9.4, chance: restless },
      ],
      minutes,
    ) as [number, number]
    expect(loud).toBeLessThan(quiet - 0.1)
    expect(quiet).toBe(confidencesOf([9.4, 0], minutes)[0])
  })

  it('reports nothing under the lowest score, however few the sounds', () => {
    expect(confidencesOf([LOWEST_SCORE - 0.01], 1)).toEqual([0])
  })
})
