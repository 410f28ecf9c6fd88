import type { Video, VideoOverview } from '../../contract'
import { counted } from './words'

/** What is to be done next for a video, and on which of its steps. */
export interface NextStep {
  readonly words: string
  readonly step: 'moments' | 'in-place' | 'clearance' | 'credits'
}

/**
 * What is to be done next for a video: of the finished film what its check says, before there is one what the cut needs.
 *
 * @param overview Null while it is not known how far the first steps are.
 */
export function nextStep(
  { state, check }: Pick<Video, 'state' | 'check'>,
  overview: VideoOverview | null,
): NextStep | null {
  if (state.kind === 'checking') return { words: 'Follow the check', step: 'clearance' }
  if (state.kind === 'points-open') return { words: `Settle ${counted(state.points, 'point')}`, step: 'clearance' }
  if (state.kind === 'partly-examined') return { words: 'See what was not examined', step: 'clearance' }
  if (state.kind === 'ready')
    return state.credits > 0
      ? { words: `Copy ${state.credits === 1 ? 'the credit' : 'the credits'}`, step: 'credits' }
      : { words: 'See what it rests on', step: 'credits' }
  if (check) return { words: 'Check it again', step: 'clearance' }
  return overview && beforeFilm(overview)
}

function beforeFilm({ hasCut, momentCount, settledCount, placedCount }: VideoOverview): NextStep {
  if (!hasCut && momentCount === 0) return { words: 'Upload a cut', step: 'moments' }
  if (momentCount === 0) return { words: 'Note what the cut needs', step: 'moments' }
  const openCount = momentCount - settledCount
  if (openCount > 0) return { words: `Find sounds for ${counted(openCount, 'moment')}`, step: 'moments' }
  if (placedCount === 0) return { words: 'Try the sounds in place', step: 'in-place' }
  return { words: 'Upload the finished video', step: 'clearance' }
}
