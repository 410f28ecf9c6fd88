import { Link } from 'wouter'
import type { Video, VideoMoments, VideoStepFacts } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { countThings } from '../../../core/score'
import { messages } from '../../../messages'
import { useStepFacts, useVideoMoments } from '../../api/moments-queries'
import { useVideoScore } from '../../api/score-queries'

export const VIDEO_STEPS = ['moments', 'in-place', 'clearance', 'credits'] as const
export type VideoStep = (typeof VIDEO_STEPS)[number]

export const STEP_NAMES: Readonly<Record<VideoStep, string>> = {
  moments: messages.common.moments,
  'in-place': messages.videos.inPlace,
  clearance: messages.videos.clearance,
  credits: messages.videos.creditsProof,
}

/** The steps of a video, each with its address and how it stands. */
export function VideoSteps({ video, step }: { video: Video; step: VideoStep }) {
  const facts = useStepFacts(video.id).data
  // Where they are open they are newer than what was counted; they are not loaded for these words.
  const moments = useVideoMoments(video.id, false).data
  const score = useVideoScore(video.id, false).data
  const noted = moments ? momentFacts(moments) : facts
  const placedCount = (score && countThings(score.document)) ?? facts?.placedCount
  const words: Readonly<Record<VideoStep, string>> = {
    moments: noted ? momentsWords(noted) : ' ',
    'in-place': placedCount === undefined ? ' ' : placedWords(placedCount),
    clearance: stateInWords(video.state),
    credits: creditsWords(video),
  }
  return (
    <nav aria-label={messages.videos.stepsOfTheVideo} className="mb-4 flex flex-wrap gap-x-8 gap-y-2 border-b ruled">
      {VIDEO_STEPS.map((one) => (
        <Link
          key={one}
          href={`/videos/${video.id}/${one}`}
          aria-current={one === step ? 'step' : undefined}
          className={`-mb-px border-b-2 pb-1.5 ${one === step ? 'border-primary' : 'border-transparent hover:border-base-300'}`}
        >
          <span className="block font-display text-lg font-semibold leading-tight">{STEP_NAMES[one]}</span>
          <span className="quiet block text-sm leading-tight">{words[one]}</span>
        </Link>
      ))}
    </nav>
  )
}

type MomentFacts = Pick<VideoStepFacts, 'momentCount' | 'settledCount' | 'hasCut'>

function momentFacts({ document: { moments }, cut }: VideoMoments): MomentFacts {
  const settled = moments.filter(({ soundId, kind }) => soundId !== null || kind === 'silence')
  return { momentCount: moments.length, settledCount: settled.length, hasCut: cut !== null }
}

/** "7 moments, 3 settled". */
function momentsWords({ momentCount, settledCount, hasCut }: MomentFacts): string {
  if (momentCount === 0) return hasCut ? messages.videos.nothingNotedYet : messages.videos.noCutYet
  return `${messages.counts.moments(momentCount)}, ${settledCount === momentCount ? messages.videos.allSettled : messages.videos.settled(settledCount)}`
}

function placedWords(count: number): string {
  return count === 0 ? messages.videos.nothingPlacedYet : messages.videos.placed(messages.counts.sounds(count))
}

function creditsWords({ state, check }: Video): string {
  if (!check) return messages.videos.afterACheck
  if (state.kind !== 'ready') return messages.videos.onceItIsReady
  return state.credits === 0 ? messages.videos.noneOwed : messages.videos.owed(messages.counts.credits(state.credits))
}
