import { describe, expect, it } from 'vitest'
import { WideChance } from '../bench/hearing/wide-chance'
import { Chance } from '../demo/synthesis/toolkit'

const DRAWS = 650_000

/** How many numbers in a row two series have in common, at their best. */
function sharedRun(one: Chance, other: Chance): number {
  const places = new Map<number, number>()
  const first = Float64Array.from({ length: DRAWS }, () => one.unit())
  for (const [at, value] of first.entries()) places.set(value, at)
  const second = Float64Array.from({ length: DRAWS }, () => other.unit())
  let best = 0
  for (let at = 0; at < DRAWS; at++) {
    const start = places.get(second[at] as number)
    if (start === undefined) continue
    let run = 0
    while (run < 1000 && at + run < DRAWS && first[start + run] === second[at + run]) run++
    best = Math.max(best, run)
  }
  return best
}

describe('the chance that the material of measurements is made of', () => {
  it('shares nothing where that of the demo shares a stretch of noise', { tags: 'long' }, () => {
    // Two sounds of a measurement: one was heard as the other.
    const [one, other] = [7001 + 114 * 13, 7001 + 250 * 13]
    expect(sharedRun(new Chance(one), new Chance(other))).toBe(1000)
    expect(sharedRun(new WideChance(one), new WideChance(other))).toBeLessThan(3)
    expect(sharedRun(new WideChance(one), new WideChance(one + 1))).toBeLessThan(3)
  })

  it('draws the same from the same seed, evenly, in every fifth of the range', () => {
    const draw = (seed: number): number[] => {
      const chance = new WideChance(seed)
      return Array.from({ length: 20_000 }, () => chance.unit())
    }
    expect(draw(3)).toEqual(draw(3))
    for (const seed of [0, 1, 7001]) {
      const counts = new Array<number>(5).fill(0)
      for (const value of draw(seed)) counts[Math.floor(5 * value)] = (counts[Math.floor(5 * value)] ?? 0) + 1
      for (const count of counts) expect(Math.abs(count - 4000)).toBeLessThan(250)
    }
  })
})
