import { expect, test } from 'vitest'
import { type CueSound, cuesOf } from './cue-sheet'
import { EMPTY_SCORE, newLayer, newPlacement, type Score } from './score'

const audio = (soundId: number) => ({ kind: 'preview', soundId }) as const
const SCORE: Score = {
  ...EMPTY_SCORE,
  layers: [newLayer('e', 'Effects', 'effects'), newLayer('a', 'Ambience', 'ambience', { isMuted: true })],
  placements: [
    newPlacement('one', { layerId: 'a', audio: audio(1), startS: 0, toS: 8 }),
    newPlacement('two', { layerId: 'e', audio: audio(2), startS: 1, toS: 2 }, { hitS: 0.5, rate: 2 }),
    newPlacement('three', { layerId: 'gone', audio: audio(2), startS: 4, toS: 1 }),
  ],
}
const sound = (open: string | null): CueSound => ({
  title: 'A sound',
  maker: '',
  sourceName: 'Library',
  fileName: 'a.wav',
  licence: 'Terms',
  creditLine: null,
  open,
})

test('a cue sheet has a line for every placement, also for what is muted, lies nowhere or has no ground', () => {
  const cues = cuesOf(SCORE, ({ id }) => sound(id === 'two' ? 'It is not here yet.' : null))
  expect(cues.map(({ number, layerName, isHeard }) => [number, layerName, isHeard])).toEqual([
    [1, 'Ambience', false],
    [2, 'Effects', true],
    [3, '', false],
  ])
  expect(cues.map(({ open }) => open)).toEqual([null, 'It is not here yet.', null])
})

test('lengths and hits are those of what is heard, at its speed', () => {
  const cue = cuesOf(SCORE, () => sound(null))[1]
  expect(cue).toMatchObject({ startS: 1, endS: 2, lengthS: 1, hitS: 1.25 })
})
