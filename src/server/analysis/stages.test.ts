import { describe, expect, it } from 'vitest'
import { HEARING_RATE_HZ, trackWindows } from '../../core/hearing'
import type { DecodedTrack } from '../workers/tasks'
import { type ReferenceSet, stageMinutes, stagesOf, WINDOWS_PER_STAGE } from './stages'

const trackOf = (minutes: number): DecodedTrack =>
  ({ shared: { frames: minutes * 60 * HEARING_RATE_HZ } }) as unknown as DecodedTrack

const referenceOf = (count: number, shortlist: readonly number[]): ReferenceSet => ({
  featurePaths: Array.from({ length: count }, (_, index) => `${index}.features`),
  shortlist,
  groups: [],
})

describe('the stages of a check', () => {
  it('hear every sound out in every part of the track, and look up all that have no papers, however many', () => {
    const track = trackOf(13)
    const stages = stagesOf(track, referenceOf(12_000, [7, 11_999]))
    const windows = trackWindows(track.shared.frames)
    for (const name of ['shortlist', 'catalogue']) {
      const own = stages.filter(({ key }) => key.startsWith(name))
      expect(own.flatMap((stage) => stage.windows)).toEqual(windows)
      for (const stage of own) expect(stage.windows.length).toBeLessThanOrEqual(WINDOWS_PER_STAGE)
      expect(own.reduce((sum, stage) => sum + stageMinutes(stage), 0)).toBeCloseTo(13, 9)
    }
    const [first] = stages
    const last = stages.at(-1)
    expect(first).toMatchObject({ indices: [7, 11_999], treated: true, lookedUp: [] })
    expect(last?.treated).toBe(false)
    expect(last?.indices).toHaveLength(11_998)
    expect(last?.lookedUp).toEqual(last?.indices)
    expect(last?.indices).not.toContain(7)
  })

  it('listen for decoys once, with what there is more of', () => {
    const of = (shortlist: readonly number[]) => stagesOf(trackOf(1), referenceOf(4, shortlist))
    expect(of([1]).map(({ key, decoys }) => [key, decoys.length > 0])).toEqual([
      ['shortlist 0', false],
      ['catalogue 0', true],
    ])
    expect(of([0, 1, 2, 3]).map(({ key, decoys }) => [key, decoys.length > 0])).toEqual([['shortlist 0', true]])
    expect(of([]).map(({ key }) => key)).toEqual(['catalogue 0'])
  })

  it('search the side with all sounds, last, where left and right oppose each other, and nowhere else', () => {
    const opposed = [{ startS: 30, endS: 31 }]
    const partlyOpposed = [100, 200, 300, 400].map((startS) => ({ startS, endS: startS + 1 }))
    const track = { ...trackOf(10), opposed, partlyOpposed }
    const stages = stagesOf(track, referenceOf(4, [1]))
    const side = stages.filter(({ ofSide }) => ofSide)
    expect(stages.slice(-side.length)).toEqual(side)
    expect(side.map(({ key, windows }) => [key, windows.length])).toEqual([
      ['side 0', WINDOWS_PER_STAGE],
      ['side 1', 2],
    ])
    for (const stage of side)
      expect(stage).toMatchObject({ indices: [0, 1, 2, 3], soundCount: 4, treated: false, lookedUp: [] })
    expect(
      stagesOf({ ...track, opposed: [], partlyOpposed: [] }, referenceOf(4, [1])).some(({ ofSide }) => ofSide),
    ).toBe(false)
  })

  it('count sounds that come later among all that were searched before, and search few of them in full', () => {
    const before = { shortlist: 3, rest: 400 }
    const of = (count: number, shortlist: readonly number[]) =>
      stagesOf(trackOf(1), { ...referenceOf(count, shortlist), before }).map(
        ({ key, soundCount, treated, lookedUp, decoys }) => [key, soundCount, treated, lookedUp.length, decoys.length],
      )
    expect(of(2, [1])).toEqual([
      ['shortlist 0', 4, true, 0, 0],
      ['catalogue 0', 401, true, 0, 0],
    ])
    expect(of(40, [1])).toEqual([
      ['shortlist 0', 4, true, 0, 0],
      ['catalogue 0', 439, false, 39, 24],
    ])
    // A check of few sounds has heard nothing before.
    expect(stagesOf(trackOf(1), referenceOf(2, []))).toMatchObject([
      { treated: false, lookedUp: [0, 1], decoys: [0, 1] },
    ])
  })

  it('are none where there is nothing to listen for', () => {
    expect(stagesOf(trackOf(1), referenceOf(0, []))).toEqual([])
  })
})
