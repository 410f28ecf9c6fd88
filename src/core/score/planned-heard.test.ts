import { describe, expect, test } from 'vitest'
import { type HeardPlace, plannedAndHeard } from './planned-heard'
import { EMPTY_SCORE, newLayer, newPlacement, type Placement, type Score } from './score'

const SHA = 'b'.repeat(64)
const placed = (id: string, soundId: number, startS: number, values: Partial<Placement> = {}): Placement =>
  newPlacement(id, { layerId: 'e', audio: { kind: 'preview', soundId }, startS, toS: 2 }, values)
const scoreOf = (placements: Placement[]): Score => ({
  ...EMPTY_SCORE,
  layers: [newLayer('e', 'Effects', 'effects'), newLayer('m', 'Muted', 'free', { isMuted: true })],
  placements,
})
const place = (soundId: number, startS: number, more: Partial<HeardPlace> = {}): HeardPlace => ({
  soundId,
  audioSha256: 'a'.repeat(64),
  alternativeIds: [],
  startS,
  endS: startS + 2,
  ...more,
})

describe('what was planned held against what was heard', () => {
  test('tells what is in both, and what in one alone', () => {
    const result = plannedAndHeard(scoreOf([placed('a', 1, 3), placed('b', 2, 8)]), [place(1, 3.02), place(3, 5)])
    expect(result.both.map(({ placement, laterS }) => [placement.id, laterS.toFixed(2)])).toEqual([['a', '0.02']])
    expect(result.heardOnly.map(({ soundId }) => soundId)).toEqual([3])
    expect(result.plannedOnly.map(({ id }) => id)).toEqual(['b'])
  })

  test('one place does not stand for two placements of one sound', () => {
    const result = plannedAndHeard(scoreOf([placed('a', 1, 3), placed('b', 1, 3.2)]), [place(1, 3.19)])
    expect(result.both.map(({ placement }) => placement.id)).toEqual(['b'])
    expect(result.plannedOnly.map(({ id }) => id)).toEqual(['a'])
  })

  test('another sound at the same time is not the one that was planned, nor the same one elsewhere', () => {
    const result = plannedAndHeard(scoreOf([placed('a', 1, 3)]), [place(2, 3), place(1, 9)])
    expect(result.both).toEqual([])
    expect(result.heardOnly).toHaveLength(2)
    expect(result.plannedOnly).toHaveLength(1)
  })

  test('a place that may as well be the planned sound is it; so is the file itself under another entry', () => {
    const byFile = placed('b', 7, 6, { audio: { kind: 'copy', sha256: SHA, soundId: 7 } })
    const heard = [place(4, 3, { alternativeIds: [1] }), place(9, 6, { audioSha256: SHA })]
    const result = plannedAndHeard(scoreOf([placed('a', 1, 3), byFile]), heard)
    expect(result.both.map(({ placement }) => placement.id)).toEqual(['a', 'b'])
  })

  test('what is muted and heard all the same is told as heard; muted and not heard it is no fault', () => {
    const muted = [placed('a', 1, 3, { layerId: 'm' }), placed('b', 2, 6, { isMuted: true })]
    const result = plannedAndHeard(scoreOf(muted), [place(1, 3)])
    expect(result.both.map(({ placement }) => placement.id)).toEqual(['a'])
    expect(result.plannedOnly).toEqual([])
    expect(result.mutedOnly.map(({ id }) => id)).toEqual(['b'])
  })

  test('a long bed may be heard from its middle on, but not beyond its end', () => {
    const bed = placed('a', 1, 3, { toS: 20 })
    expect(plannedAndHeard(scoreOf([bed]), [place(1, 10)]).both).toHaveLength(1)
    expect(plannedAndHeard(scoreOf([bed]), [place(1, 22.4)]).both).toHaveLength(0)
  })
})
