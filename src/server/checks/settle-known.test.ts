import { describe, expect, it } from 'vitest'
import { detectionOf } from '../../../test/detection'
import type { DetectionFacts } from '../../core/clearance'
import { settledWithKnown } from './settle-known'

const find = (soundId: number, startS: number, endS: number, alternativeIds: readonly number[] = []): DetectionFacts =>
  detectionOf(soundId, startS, endS, { alternativeIds })

const inShort = (finds: readonly DetectionFacts[]) =>
  finds.map(({ soundId, startS, alternativeIds }) => [soundId, startS, alternativeIds])

/** Sounds 1 to 9 were heard before, 11 and above came later. */
const LATER = new Set([11, 12])
const KNOWN = [find(1, 0, 2, [7]), find(2, 5, 6)]

describe('what is heard once later sounds are settled with what was heard before', () => {
  it('is what was heard before, with what a later sound gives elsewhere', () => {
    const elsewhere = find(11, 3, 4)
    const both = settledWithKnown(KNOWN, [elsewhere], [find(1, 0, 2), elsewhere, find(2, 5, 6)], LATER)
    expect(inShort(both.known)).toEqual(inShort(KNOWN))
    expect(inShort(both.finds)).toEqual([[11, 3, []]])
  })

  it('has no find of a later sound that one from before explains', () => {
    const both = settledWithKnown(KNOWN, [find(11, 0.1, 1.9)], [find(1, 0, 2), find(2, 5, 6)], LATER)
    expect(inShort(both.known)).toEqual(inShort(KNOWN))
    expect(both.finds).toEqual([])
  })

  it('names a later sound that answered nearly as much beside the one from before, whether it was reported by itself or not', () => {
    for (const own of [[], [find(11, 0, 2)]]) {
      const both = settledWithKnown(KNOWN, own, [find(1, 0, 2, [11, 2])], LATER)
      expect(inShort(both.known)).toEqual([
        [1, 0, [7, 11]],
        [2, 5, []],
      ])
      expect(both.finds).toEqual([])
    }
  })

  it('puts a later sound that explains more in the place of the one from before, and names that beside it with all that was', () => {
    const both = settledWithKnown(KNOWN, [find(11, 0, 2.5)], [find(11, 0, 2.5, [1, 12])], LATER)
    expect(inShort(both.known)).toEqual([[2, 5, []]])
    expect(inShort(both.finds)).toEqual([[11, 0, [1, 12, 7]]])
  })

  it('keeps what a later sound hardly covers, and what it is no alternative to', () => {
    const longer = [find(1, 0, 10), find(2, 5, 6)]
    const both = settledWithKnown(longer, [find(11, 9, 12)], [find(11, 9, 12, [1])], LATER)
    expect(inShort(both.known)).toEqual(inShort(longer))
    expect(inShort(both.finds)).toEqual([[11, 9, [1]]])
    const beside = settledWithKnown(KNOWN, [find(12, 0, 2)], [find(1, 0, 2), find(12, 0, 2)], LATER)
    expect(inShort(beside.known)).toEqual(inShort(KNOWN))
    expect(inShort(beside.finds)).toEqual([[12, 0, []]])
  })
})
