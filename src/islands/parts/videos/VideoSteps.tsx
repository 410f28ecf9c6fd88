import { Link } from 'wouter'
import type { Video } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { useVideoMoments } from '../../api/moments-queries'
import { useVideoScore } from '../../api/score-queries'
import { counted } from '../../format/words'

export const VIDEO_STEPS = ['moments', 'in-place', 'clearance', 'credits'] as const
export type VideoStep = (typeof VIDEO_STEPS)[number]

const STEP_NAMES: Readonly<Record<VideoStep, string>> = {
  moments: 'Moments',
  'in-place': 'In place',
  clearance: 'Clearance',
  credits: 'Credits & proof',
}

/** The steps of a video, each with its address and how it stands. */
export function VideoSteps({ video, step }: { video: Video; step: VideoStep }) {
  const moments = useVideoMoments(video.id)
  const score = useVideoScore(video.id)
  const words: Readonly<Record<VideoStep, string>> = {
    moments: moments.data ? momentsWords(moments.data.document.moments, moments.data.cut !== null) : ' ',
    'in-place': score.data ? placedWords(score.data.document.placements.length) : ' ',
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

/** "7 noted, 3 with a sound". */
function momentsWords(
  moments: readonly { readonly soundId: number | null; readonly kind: string }[],
  hasCut: boolean,
): string {
  if (moments.length === 0) return hasCut ? 'nothing noted yet' : 'no cut yet'
  const done = moments.filter(({ soundId, kind }) => soundId !== null || kind === 'silence').length
  return `${counted(moments.length, 'moment')}, ${done === moments.length ? 'all settled' : `${done} settled`}`
}

function placedWords(count: number): string {
  return count === 0 ? 'nothing placed yet' : `${counted(count, 'sound')} placed`
}

function creditsWords({ state, check }: Video): string {
  if (!check) return 'after a check'
  if (state.kind !== 'ready') return 'once it is ready'
  return state.credits === 0 ? 'none owed' : `${counted(state.credits, 'credit')} owed`
}
