import { describe, expect, it } from 'vitest'
import { detectionOf } from '../../../test/detection'
import type { DetectionWire } from '../../contract'
import { placeRuns, runWords, startsInWords } from './places'

function place(id: number, startS: number, endS: number, more: Partial<DetectionWire> = {}): DetectionWire {
  const { audioSha256: _, alternativeIds: __, ...heard } = detectionOf(1, startS, endS)
  return { id, ...heard, certainty: 'certain', ...more }
}

const words = (places: readonly DetectionWire[]): string[] => placeRuns(places).map(runWords)

describe('the places of a sound', () => {
  it('that follow each other at once are one run, in order of time', () => {
    expect(words([place(3, 10, 13), place(1, 4, 7), place(2, 7.1, 10), place(4, 20, 23)])).toEqual([
      '3 times, 0:04.0 – 0:13.0',
      '0:20.0 – 0:23.0',
    ])
    const [run] = placeRuns([place(1, 4, 7), place(2, 7, 10, { confidence: 0.91, certainty: 'very likely' })])
    expect([run?.first.id, run?.weakest.certainty]).toEqual([1, 'very likely'])
  })

  it.each([
    ['there is a pause', { startS: 7.3, endS: 10.3 }],
    ['they lie over each other', { startS: 5, endS: 8 }],
    ['they are in two tracks', { trackIndex: 1 }],
    ['one is at another speed', { speed: 1.1 }],
    ['one is muffled', { treatment: 'muffled', cutoffHz: 900 }],
  ] as const)('are apart where %s', (_, more) => {
    expect(words([place(1, 4, 7), place(2, 7, 10, more)])).toHaveLength(2)
  })

  it('are none where there are none', () => {
    expect(placeRuns([])).toEqual([])
    expect(startsInWords([])).toBe('')
  })

  it('are named up to eight, and counted from there on', () => {
    const starts = (count: number) => Array.from({ length: count }, (_, n) => ({ startS: n }))
    expect(startsInWords(starts(2))).toBe('0:00.0, 0:01.0')
    expect(startsInWords(starts(8))).toMatch(/0:07.0$/)
    expect(startsInWords(starts(40))).toMatch(/0:07.0 and 32 more$/)
  })
})
