import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { hitPointS } from './hit-point'

const RATE_HZ = 48000

/** Noise whose level is a function of time. */
function shaped(durationS: number, levelAt: (timeS: number) => number): Float32Array {
  return noise(durationS * RATE_HZ, 12).map((value, n) => value * levelAt(n / RATE_HZ))
}

describe('hitPointS', () => {
  it('is at the start of a struck sound', () => {
    expect(
      hitPointS(
        shaped(1, (t) => Math.exp(-t * 8)),
        RATE_HZ,
      ),
    ).toBeLessThan(0.02)
  })

  it('is at the strike that comes after a quiet run-up', () => {
    const at = hitPointS(
      shaped(2, (t) => (t < 1.3 ? 0.05 : Math.exp((1.3 - t) * 6))),
      RATE_HZ,
    )
    // Levels are compared every 5 ms over 30 ms.
    expect(Math.abs((at as number) - 1.3)).toBeLessThan(0.035)
  })

  it('is at the peak of a swell', () => {
    const at = hitPointS(
      shaped(3, (t) => Math.min((t / 2.5) ** 3, Math.max(0, (3 - t) / 0.5))),
      RATE_HZ,
    )
    expect(Math.abs((at as number) - 2.5)).toBeLessThan(0.1)
  })

  it('has no answer for silence and for nothing', () => {
    expect(hitPointS(new Float32Array(RATE_HZ), RATE_HZ)).toBeNull()
    expect(hitPointS(new Float32Array(0), RATE_HZ)).toBeNull()
  })

  it('takes one frame', () => {
    expect(hitPointS(Float32Array.of(0.5), RATE_HZ)).toBe(0)
  })
})
