import { describe, expect, it } from 'vitest'
import { addAt, bed, effect } from '../../../test/signals'
import { echoRatio } from './room'

const RATE_HZ = 16000
const OFFSET = 8000
const SOUND = effect({ length: RATE_HZ, rateHz: RATE_HZ, seed: 4 })
const WHOLE = { from: 0, to: RATE_HZ, gain: 1 }

function around(echoS: number | null): Float32Array {
  const samples = bed({ length: 2.5 * RATE_HZ, rateHz: RATE_HZ, seed: 6, level: 0.05 })
  if (echoS !== null) addAt(samples, SOUND, OFFSET + Math.round(echoS * RATE_HZ), 0.3)
  return samples
}

describe('echoRatio', () => {
  it('is about 1 without a room', () => {
    const ratio = echoRatio(around(null), OFFSET, SOUND, WHOLE)
    expect(ratio).toBeGreaterThan(0.75)
    expect(ratio).toBeLessThan(1.25)
  })

  it('is high when the sound comes again shortly after, and low when it came shortly before', () => {
    expect(echoRatio(around(0.06), OFFSET, SOUND, WHOLE)).toBeGreaterThan(2)
    expect(echoRatio(around(-0.06), OFFSET, SOUND, WHOLE)).toBeLessThan(0.5)
  })

  it('does not count what comes much later', () => {
    const ratio = echoRatio(around(0.4), OFFSET, SOUND, WHOLE)
    expect(ratio).toBeLessThan(1.4)
  })

  it('is 1 where hardly anything is left of a sound, as of one in silence after a codec', () => {
    const left = around(0.06).map((value) => value / 10)
    expect(echoRatio(left, OFFSET, SOUND, { ...WHOLE, gain: 0.1 })).toBeGreaterThan(2)
    expect(echoRatio(left, OFFSET, SOUND, WHOLE)).toBe(1)
  })

  it('takes a part of a sound', () => {
    expect(echoRatio(around(0.06), OFFSET, SOUND, { from: 2000, to: 12000, gain: 1 })).toBeGreaterThan(1.5)
  })
})
