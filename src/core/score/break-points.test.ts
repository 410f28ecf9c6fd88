import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { withBreakPoint, withMovedBreakPoint, withoutBreakPoint } from './break-points'
import { lineValue } from './lines'
import type { BreakPoint } from './score'

const BOUNDS = { least: -80, most: 30, lengthS: 10 }
const anyPoint = fc.record({
  atS: fc.double({ min: 0, max: 10, noNaN: true }),
  value: fc.double({ min: -90, max: 40, noNaN: true }),
})
const anyLine = fc
  .array(anyPoint, { maxLength: 12 })
  .map((points) => points.reduce<BreakPoint[]>((line, point) => withBreakPoint(line, point, BOUNDS), []))

function expectOrdered(line: readonly BreakPoint[]): void {
  for (const [at, { atS, value }] of line.entries()) {
    expect(atS).toBeGreaterThanOrEqual(0)
    expect(atS).toBeLessThanOrEqual(BOUNDS.lengthS)
    expect(value).toBeGreaterThanOrEqual(BOUNDS.least)
    expect(value).toBeLessThanOrEqual(BOUNDS.most)
    if (at > 0) expect(atS).toBeGreaterThan((line[at - 1] as BreakPoint).atS)
  }
}

describe('break points of a line', () => {
  test('stand in order of time and within their bounds, whatever is put where', () => {
    fc.assert(fc.property(anyLine, expectOrdered))
  })

  test('a point put on the line as it runs changes nothing of it', () => {
    fc.assert(
      fc.property(anyLine, fc.integer({ min: 0, max: 10_000 }), (line, ms) => {
        const atS = ms / 1000
        // One that stands there already would be replaced by one a hair beside it.
        fc.pre(line.every((point) => Math.abs(point.atS - atS) >= 0.001))
        const more = withBreakPoint(line, { atS }, BOUNDS)
        expect(more).toHaveLength(line.length + 1)
        for (let at = 0; at <= 10; at += 0.37) expect(lineValue(more, at)).toBeCloseTo(lineValue(line, at), 6)
      }),
    )
  })

  test('a moved point passes none of its neighbours, however far it is dragged', () => {
    const anyMove = fc.record({
      atS: fc.double({ min: -20, max: 30, noNaN: true }),
      value: fc.double({ min: -900, max: 900, noNaN: true }),
    })
    fc.assert(
      fc.property(anyLine, fc.nat(), anyMove, (line, seed, to) => {
        fc.pre(line.length > 0)
        // Neighbours that stand as near as two points can leave nothing to move to.
        fc.pre(line.every(({ atS }, at) => at === 0 || atS - (line[at - 1] as BreakPoint).atS > 0.003))
        const index = seed % line.length
        const moved = withMovedBreakPoint(line, index, to, BOUNDS)
        expectOrdered(moved)
        expect(withoutBreakPoint(moved, index)).toEqual(withoutBreakPoint(line, index))
      }),
    )
  })

  test('a second point at the same instant takes the place of the first', () => {
    const line = withBreakPoint([{ atS: 1, value: -6 }], { atS: 1.0004, value: -3 }, BOUNDS)
    expect(line).toEqual([{ atS: 1.0004, value: -3 }])
  })

  test.each([-0.001, 10.001, Number.NaN])('there is none at %d s, outside of the sound', (atS) => {
    expect(() => withBreakPoint([], { atS }, BOUNDS)).toThrow('not within this sound')
  })

  test('there are not more than a line may have', () => {
    const line = Array.from({ length: 200 }, (_, at) => ({ atS: at / 25, value: 0 }))
    expect(() => withBreakPoint(line, { atS: 9.5 }, BOUNDS)).toThrow('at most 200')
    expect(withBreakPoint(line, { atS: 1, value: 3 }, BOUNDS)).toHaveLength(200)
  })
})
