import { Link } from 'wouter'
import type { Video, VideoMoments, VideoStepFacts } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { useStepFacts, useVideoMoments } from '../../api/moments-queries'
import { useVideoScore } from '../../api/score-queries'
import { counted } from '../../format/words'

export const VIDEO_STEPS = ['moments', 'in-place', 'clearance', 'credits'] as const
export type VideoStep = (typeof VIDEO_STEPS)[number]

export const STEP_NAMES: Readonly<Record<VideoStep, string>> = {
  moments: 'Moments',
  'in-place': 'In place',
  clearance: 'Clearance',
  credits: 'Credits & proof',
}

/** The steps of a video, each with its address and how it stands. */
export function VideoSteps({ video, step }: { video: Video; step: VideoStep }) {
  const facts = useStepFacts(video.id).data
  // Where they are open they are newer than what was counted; they are not loaded for these words.
  const moments = useVideoMoments(video.id, false).data
  const score = useVideoScore(video.id, false).data
  const noted = moments ? momentFacts(moments) : facts
  const placedCount = score?.document.placements.length ?? facts?.placedCount
  const words: Readonly<Record<VideoStep, string>> = {
    moments: noted ? momentsWords(noted) : ' ',
    'in-place': placedCount === undefined ? ' ' : placedWords(placedCount),
    clearance: stateInWords(video.state),
    credits: creditsWords(video),
  }
  return (
    <nav aria-label="Steps of the video" className="mb-4 flex flex-wrap gap-x-8 gap-y-2 border-b ruled">
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
  if (momentCount === 0) return hasCut ? 'nothing noted yet' : 'no cut yet'
  return `${counted(momentCount, 'moment')}, ${settledCount === momentCount ? 'all settled' : `${settledCount} settled`}`
}

function placedWords(count: number): string {
  return count === 0 ? 'nothing placed yet' : `${counted(count, 'sound')} placed`
}

function creditsWords({ state, check }: Video): string {
  if (!check) return 'after a check'
  if (state.kind !== 'ready') return 'once it is ready'
  return state.credits === 0 ? 'none owed' : `${counted(state.credits, 'credit')} owed`
}
