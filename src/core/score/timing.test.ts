import { describe, expect, test } from 'vitest'
import { newPlacement, type Placement } from './score'
import { hitOffsetS, hitOffsetsS, hitTimeS, placedAt, placementLengthS } from './timing'

/** Opening of 1 s, then a part of 0.5 s four times, each led in over 0.1 s. */
const ASSEMBLY = [
  { fromS: 0, toS: 1, times: 1, seamS: 0 },
  { fromS: 1, toS: 1.5, times: 4, seamS: 0.1 },
]
const placed = (more: Partial<Placement>): Placement =>
  newPlacement('p', { layerId: 'one', audio: { kind: 'preview', soundId: 1 }, startS: 10, toS: 2 }, more)

describe('the hits of a sound', () => {
  test('are one, where it is heard once', () => {
    expect(hitOffsetsS(placed({ hitS: 0.4, fromS: 0.1 }))).toEqual([expect.closeTo(0.3, 9)])
    expect(hitOffsetsS(placed({ hitS: 0.4, rate: 2 }))).toEqual([expect.closeTo(0.2, 9)])
    expect(hitOffsetsS(placed({ hitS: 0.4, isReversed: true }))).toEqual([expect.closeTo(1.6, 9)])
  })

  test('are none where it has none, or where that is cut off', () => {
    expect(hitOffsetsS(placed({ hitS: null }))).toEqual([])
    expect(hitOffsetsS(placed({ hitS: 0.4, fromS: 0.5 }))).toEqual([])
    expect(hitOffsetS(placed({ hitS: 0.4, fromS: 0.5, hitRepeat: 3 }))).toBeNull()
  })

  test('are as many as the part that it lies in is repeated, each where its run begins', () => {
    const hits = hitOffsetsS(placed({ hitS: 1.2, assembly: ASSEMBLY }))
    // Runs of 0.5 s that overlap by 0.1 s: one begins 0.4 s after the other, the first at 0.9 s.
    expect(hits).toEqual([1.1, 1.5, 1.9, 2.3].map((atS) => expect.closeTo(atS, 9)))
    expect(hits.at(-1)).toBeLessThan(placementLengthS(placed({ assembly: ASSEMBLY })))
    const back = hitOffsetsS(placed({ hitS: 1.2, assembly: ASSEMBLY, isReversed: true }))
    expect(back).toEqual([...back].sort((a, b) => a - b))
    expect(back).toHaveLength(4)
  })

  test('can be chosen: that one meets what it is lined up with', () => {
    const third = placed({ hitS: 1.2, assembly: ASSEMBLY, hitRepeat: 2 })
    expect(hitOffsetS(third)).toBeCloseTo(1.9, 9)
    expect(hitTimeS(placedAt(third, 30))).toBeCloseTo(30, 9)
    // When it is made shorter, the last that is left is meant.
    expect(hitOffsetS({ ...third, hitRepeat: 9 })).toBeCloseTo(2.3, 9)
    expect(hitOffsetS({ ...third, assembly: null })).toBeCloseTo(1.2, 9)
  })
})
