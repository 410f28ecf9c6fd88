import { describe, expect, it } from 'vitest'
import { inBatches, inBatchesByWeight } from './listening'

describe('batches', () => {
  it('have so many items each, the last one what is left', () => {
    expect(inBatches([1, 2, 3, 4, 5], 2)).toEqual([[1, 2], [3, 4], [5]])
    expect(inBatches([], 2)).toEqual([])
  })

  it.each([
    [
      'as many as fit',
      [3, 3, 3, 1],
      [
        [3, 3],
        [3, 1],
      ],
    ],
    ['the heaviest alone, with nothing lost before and behind it', [2, 99, 2, 2], [[2], [99], [2, 2]]],
    [
      'no more items than are wanted, however light',
      [0, 0, 0, 0, 0],
      [
        [0, 0, 0],
        [0, 0],
      ],
    ],
    ['what fills it exactly', [4, 2, 1], [[4, 2], [1]]],
    ['none', [], []],
  ])('by weight: %s', (_what, weights, expected) => {
    expect(inBatchesByWeight(weights, { size: 3, most: 6, weightOf: (weight) => weight })).toEqual(expected)
  })
})
