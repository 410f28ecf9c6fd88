import { describe, expect, it } from 'vitest'
import type { Video, VideoOverview } from '../../contract'
import { nextStep } from './next-step'

const NOTHING: VideoOverview = {
  id: 1,
  momentCount: 0,
  settledCount: 0,
  placedCount: 0,
  hasCut: false,
  hasCutPicture: false,
  lengthS: null,
  filmId: null,
}
const notChecked = { state: { kind: 'not-checked' }, check: null } as const
const ready = (credits: number): Pick<Video, 'state' | 'check'> => ({
  state: { kind: 'ready', credits, accepted: [] },
  check: { id: 1, state: 'done' },
})

describe('the next step of a video', () => {
  it.each<readonly [Partial<VideoOverview>, string, string]>([
    [{}, 'Upload a cut', 'moments'],
    [{ hasCut: true }, 'Note what the cut needs', 'moments'],
    [{ hasCut: true, momentCount: 5, settledCount: 1 }, 'Find sounds for 4 moments', 'moments'],
    [{ momentCount: 2, settledCount: 1 }, 'Find sounds for 1 moment', 'moments'],
    [{ hasCut: true, momentCount: 5, settledCount: 5 }, 'Try the sounds in place', 'in-place'],
    [{ hasCut: true, momentCount: 5, settledCount: 5, placedCount: 1 }, 'Upload the finished video', 'clearance'],
  ])('before there is a finished film, with %o, is “%s”', (facts, words, step) => {
    expect(nextStep(notChecked, { ...NOTHING, ...facts })).toEqual({ words, step })
  })

  it('is not guessed while it is not known how far the first steps are', () => {
    expect(nextStep(notChecked, null)).toBeNull()
  })

  it.each<readonly [Pick<Video, 'state' | 'check'>, string, string]>([
    [{ state: { kind: 'checking' }, check: { id: 1, state: 'running' } }, 'Follow the check', 'clearance'],
    [
      { state: { kind: 'points-open', points: 1, credits: 0 }, check: { id: 1, state: 'done' } },
      'Settle 1 point',
      'clearance',
    ],
    [
      { state: { kind: 'points-open', points: 4, credits: 2 }, check: { id: 1, state: 'done' } },
      'Settle 4 points',
      'clearance',
    ],
    [
      { state: { kind: 'partly-examined', points: 0, credits: 0 }, check: { id: 1, state: 'done' } },
      'See what was not examined',
      'clearance',
    ],
    [{ state: { kind: 'not-checked' }, check: { id: 1, state: 'failed' } }, 'Check it again', 'clearance'],
    [ready(1), 'Copy the credit', 'credits'],
    [ready(3), 'Copy the credits', 'credits'],
    [ready(0), 'See what it rests on', 'credits'],
  ])('of %o is “%s”, however far the first steps are', (video, words, step) => {
    expect(nextStep(video, { ...NOTHING, momentCount: 9 })).toEqual({ words, step })
    expect(nextStep(video, null)).toEqual({ words, step })
  })
})
