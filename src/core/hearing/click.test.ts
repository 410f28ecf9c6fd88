import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, noise } from '../../../test/signals'
import { CellTransform } from './cells'
import { clickCost, effectiveLengthS } from './click'
import { HEARING_RATE_HZ } from './constants'
import { preparedWindow } from './correlate'
import { searchPlan } from './plan'
import { type PreparedSound, preparedSound } from './prepare'
import { Searcher } from './search'
import { bandLevels, hearableFromDb } from './sensitivity'
import { trackOf } from './track'

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

describe('a click in a track', () => {
  const track = trackOf(bed({ length: 8 * HEARING_RATE_HZ, rateHz: HEARING_RATE_HZ, seed: 2 }))
  const cells = new CellTransform()

  it('is said to be heard only from a higher level than a longer sound of its loudness', () => {
    const levels = bandLevels(track, cells)
    const fromDb = (lengthMs: number): number => hearableFromDb(burst(lengthMs), levels, 7.5, cells) ?? 99
    expect(fromDb(4)).toBeGreaterThan(fromDb(60) + 3)
  })

  it('is not said to be in a room because another one follows', () => {
    const click = burst(6)
    const samples = track.midSamples(0, track.frames)
    for (const atMs of [0, 40, 75, 120])
      addAt(samples, click.samples, 3 * HEARING_RATE_HZ + (atMs * HEARING_RATE_HZ) / 1000, 0.8 * 0.7 ** (atMs / 40))
    const clicking = trackOf(samples)
    const searcher = new Searcher()
    const window = preparedWindow(clicking, { start: 0, frames: clicking.frames }, searcher.correlator.kernel)
    const finds = searcher.search(clicking, [window], [click], searchPlan(7.5, true))
    expect(finds.length).toBeGreaterThan(0)
    for (const { echoes } of finds) expect(echoes).toBe(1)
  })
})
