import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { comesUnevenly, FRAME_TICK_S, frameTicks, frameTimesS } from './frame-times'

function timesOf(steps: readonly number[]): number[] {
  const times = [0]
  for (const step of steps) times.push((times.at(-1) ?? 0) + step)
  return times
}

describe('frames', () => {
  it.each([
    ['all alike', Array(40).fill(0.04), false],
    ['rounded to milliseconds', Array.from({ length: 60 }, (_, at) => (at % 3 === 2 ? 0.034 : 0.033)), false],
    ['one of them late', [...Array(80).fill(0.04), 0.08], false],
    ['every tenth left out', Array.from({ length: 60 }, (_, at) => (at % 10 === 9 ? 0.08 : 0.04)), true],
    ['slow and then fast', [...Array(20).fill(0.04), ...Array(20).fill(0.02)], true],
    ['too few to tell', [0.04, 0.4, 0.04], false],
    ['none', [], false],
  ])('%s', (_, steps, isUneven) => {
    expect(comesUnevenly(timesOf(steps))).toBe(isUneven)
  })

  it('come back from where they are stored, to a tick', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 10_000, noNaN: true }), { maxLength: 50 }), (times) => {
        const back = frameTimesS(frameTicks(times))
        for (const [at, timeS] of times.entries())
          expect(Math.abs((back[at] as number) - timeS)).toBeLessThanOrEqual(FRAME_TICK_S / 2 + 1e-9)
      }),
    )
  })
})
