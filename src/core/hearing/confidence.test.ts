import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { confidenceOf, scoreThreshold } from './confidence'

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

  it('is 7.5 where it was measured, half a point higher for twice as much, and never under 7.2', () => {
    expect(scoreThreshold({ soundCount: 200, durationS: 600 })).toBeCloseTo(7.5, 9)
    expect(scoreThreshold({ soundCount: 400, durationS: 600 })).toBeCloseTo(8, 9)
    expect(scoreThreshold({ soundCount: 1, durationS: 5 })).toBe(7.2)
  })
})

describe('confidenceOf', () => {
  it('is a half at the threshold, halves the doubt every half point, and stays under 1 until it rounds', () => {
    expect(confidenceOf(7, 7)).toBeCloseTo(0.5, 9)
    expect(confidenceOf(7.5, 7)).toBeCloseTo(0.75, 9)
    expect(confidenceOf(9, 7)).toBeCloseTo(1 - 1 / 32, 9)
    expect(confidenceOf(60, 7)).toBeLessThanOrEqual(1)
  })
})
