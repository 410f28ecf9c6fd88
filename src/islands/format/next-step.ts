import type { Video, VideoOverview } from '../../contract'
import { messages } from '../../messages'

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
  if (state.kind === 'checking') return { words: messages.words.followTheCheck, step: 'clearance' }
  if (state.kind === 'points-open')
    return { words: messages.words.settle(messages.counts.points(state.points)), step: 'clearance' }
  if (state.kind === 'partly-examined') return { words: messages.words.seeWhatWasNotExamined, step: 'clearance' }
  if (state.kind === 'ready')
    return state.credits > 0
      ? {
          words: messages.words.copy(state.credits === 1 ? messages.words.theCredit : messages.words.theCredits),
          step: 'credits',
        }
      : { words: messages.words.seeWhatItRestsOn, step: 'credits' }
  if (check) return { words: messages.words.checkItAgain, step: 'clearance' }
  return overview && beforeFilm(overview)
}

function beforeFilm({ hasCut, momentCount, settledCount, placedCount }: VideoOverview): NextStep {
  if (!hasCut && momentCount === 0) return { words: messages.words.uploadACut, step: 'moments' }
  if (momentCount === 0) return { words: messages.words.noteWhatTheCutNeeds, step: 'moments' }
  const openCount = momentCount - settledCount
  if (openCount > 0) return { words: messages.words.findSoundsFor(messages.counts.moments(openCount)), step: 'moments' }
  if (placedCount === 0) return { words: messages.words.tryTheSoundsInPlace, step: 'in-place' }
  return { words: messages.words.uploadTheFinishedVideo, step: 'clearance' }
}
