import { describe, expect, it } from 'vitest'
import { effect, noise } from '../../../test/signals'
import { clickCost, effectiveLengthS } from './click'
import { HEARING_RATE_HZ } from './constants'
import { type PreparedSound, preparedSound } from './prepare'

/** A burst of noise of a length, ms, in half a second of next to nothing. */
function burst(lengthMs: number): PreparedSound {
  const samples = noise(HEARING_RATE_HZ / 2, 4, 1e-5)
  samples.set(noise((lengthMs * HEARING_RATE_HZ) / 1000, 5, 0.5), 400)
  return preparedSound(samples) as PreparedSound
}

describe('a click', () => {
  it('is as long as its energy lasts, not as its file', () => {
    for (const lengthMs of [20, 80, 300]) {
      const lengthS = effectiveLengthS(burst(lengthMs))
      expect(lengthS).toBeGreaterThan(0.0006 * lengthMs)
      expect(lengthS).toBeLessThan(0.0015 * lengthMs)
    }
  })

  it('costs the more the shorter it is, and a longer sound costs nothing', () => {
    expect(clickCost(burst(2))).toBeGreaterThan(clickCost(burst(5)))
    expect(clickCost(burst(5))).toBeGreaterThan(1)
    expect(clickCost(burst(40))).toBe(0)
    const thud = effect({ length: 5000, rateHz: HEARING_RATE_HZ, seed: 1 })
    expect(clickCost(preparedSound(thud) as PreparedSound)).toBe(0)
  })
})
