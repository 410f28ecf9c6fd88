import { describe, expect, it } from 'vitest'
import type { Job, Video } from '../../../contract'
import { firstStepsOf } from './first-steps'

const video = (id: number, state: 'running' | 'done' | 'failed' | null): Video =>
  ({ id, title: `Video ${id}`, check: state && { id: 10 * id, state } }) as Video
const mirror = (state: Job['state']): Job => ({ id: 1, kind: 'mirror', state }) as Job
const EMPTY = { licensee: '', soundCount: 0, liveSources: 0 }
const NAMED = { licensee: 'Small Hours', soundCount: 0, liveSources: 0 }
const STOCKED = { licensee: 'Small Hours', soundCount: 42, liveSources: 0 }
const SEARCHED = { ...NAMED, liveSources: 1 }

describe('the first steps', () => {
  it.each([
    ['nothing is there', EMPTY, [], [], 'licensee'],
    ['it is known who holds the licences', NAMED, [], [], 'library'],
    ['a library is being read', STOCKED, [], [mirror('running')], 'library'],
    ['a library was read', STOCKED, [], [mirror('done')], 'film'],
    ['a library that is searched was connected, and nothing was seen of it yet', SEARCHED, [], [], 'film'],
    ['a library that is searched is being connected', SEARCHED, [], [mirror('running')], 'library'],
    ['a video was added without a file', STOCKED, [video(1, null)], [], 'film'],
    ['a file is being listened to', STOCKED, [video(1, 'running')], [], 'result'],
    // What failed or was stopped is no result: another file is wanted.
    ['a check failed', STOCKED, [video(1, 'failed')], [], 'film'],
    ['there is a result', STOCKED, [video(1, 'done')], [], null],
    // The order is advice: what was done before counts.
    ['a film was checked before anything else', EMPTY, [video(1, 'done')], [], 'licensee'],
  ] as const)('when %s', (_, shell, videos, jobs, current) => {
    expect(firstStepsOf(shell, videos, jobs).current).toBe(current)
  })

  it('the result is that of the video whose file came last', () => {
    const videos = [video(3, 'done'), video(7, 'running'), video(9, null), video(5, 'done')]
    expect(firstStepsOf(STOCKED, videos, []).video?.id).toBe(7)
  })
})
