import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { coveredFraction, coveredS, joinedRanges, missingRanges, rangesWithout, type TimeRange } from './time-range'

const range = (startS: number, endS: number): TimeRange => ({ startS, endS })
const anyRanges = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 20 }))
    .map(([at, length]) => range(at, at + length)),
  { maxLength: 8 },
)

/** Seconds from 0 to 100 that some ranges hold, one by one: slow and plain. */
function secondsIn(ranges: readonly TimeRange[]): number[] {
  return Array.from({ length: 100 }, (_, second) => second).filter((second) =>
    ranges.some(({ startS, endS }) => second >= startS && second + 1 <= endS),
  )
}

describe('joinedRanges', () => {
  it('joins what overlaps or touches, in order', () => {
    expect(joinedRanges([range(5, 7), range(0, 2), range(2, 3), range(6, 9)])).toEqual([range(0, 3), range(5, 9)])
  })
  it('closes gaps up to a length', () => {
    expect(joinedRanges([range(0, 1), range(1.5, 2), range(4, 5)], 0.5)).toEqual([range(0, 2), range(4, 5)])
  })
  it('covers the same seconds', () => {
    fc.assert(
      fc.property(anyRanges, (ranges) => {
        expect(secondsIn(joinedRanges(ranges))).toEqual(secondsIn(ranges))
      }),
    )
  })
})

describe('rangesWithout', () => {
  it('leaves what no other range holds', () => {
    fc.assert(
      fc.property(anyRanges, anyRanges, (ranges, out) => {
        const cut = new Set(secondsIn(out))
        expect(secondsIn(rangesWithout(ranges, out))).toEqual(secondsIn(ranges).filter((second) => !cut.has(second)))
      }),
    )
  })
})

describe('coveredFraction', () => {
  it('counts what overlaps once', () => {
    expect(coveredFraction(range(0, 10), [range(0, 4), range(2, 5), range(9, 20)])).toBeCloseTo(0.6, 9)
    expect(coveredFraction(range(0, 10), [])).toBe(0)
    expect(coveredFraction(range(3, 3), [range(4, 9)])).toBe(0)
    expect(coveredFraction(range(3, 3), [range(1, 3)])).toBe(1)
    expect(coveredS([range(0, 2), range(1, 3)])).toBe(3)
  })
})

describe('missingRanges', () => {
  it.each([
    ['all there', [range(0, 10)], 10, []],
    ['half a second short is rounding', [range(0, 9.5)], 10, []],
    ['more is missing', [range(0, 9.4)], 10, [range(9.4, 10)]],
    ['a gap', [range(0, 3), range(4, 10)], 10, [range(3, 4)]],
    ['no length stated', [range(0, 3)], null, []],
    ['nothing decoded', [], 10, [range(0, 10)]],
  ] as const)('%s', (_name, decoded, statedS, missing) => {
    expect(missingRanges(decoded, { statedS })).toEqual(missing)
  })
  it('misses nothing before a track that begins late', () => {
    expect(missingRanges([range(4, 10)], { statedS: 10, startS: 4 })).toEqual([])
  })
})
