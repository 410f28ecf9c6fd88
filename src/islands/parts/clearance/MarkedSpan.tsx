import { AudioLines, Play, X } from 'lucide-react'
import type { TimeRange } from '../../../core/time-range'
import { messages } from '../../../messages'
import { useFindLikePart } from '../../api/find-queries'
import { endedAt, startedAt } from '../../audio/listening-options'
import { type PlayClock, usePlayTime } from '../../audio/play-clock'
import { clock, lengthWords } from '../../format/words'

interface MarkedSpanProps {
  readonly videoId: number
  readonly durationS: number
  readonly clock: PlayClock
  readonly span: TimeRange | null
  readonly onMark: (span: TimeRange | null) => void
  readonly onPlay: (span: TimeRange) => void
}

/** The part of the sound track that is marked: by dragging over the time map, or from where the video stands; and what can be done with it. */
export function MarkedSpan({ videoId, durationS, clock: playClock, span, onMark, onPlay }: MarkedSpanProps) {
  const timeS = usePlayTime(playClock, 0.1)
  const { findLike, isPending, error } = useFindLikePart()
  return (
    <section aria-label={messages.clearance.markedPart} className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
      {span ? (
        <span data-testid="marked-span">
          {messages.clearance.markedTo(clock(span.startS), clock(span.endS), lengthWords(span.endS - span.startS))}
        </span>
      ) : (
        <span className="quiet">{messages.clearance.dragOverTheMapTo}</span>
      )}
      <span className="flex gap-1">
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => onMark(startedAt(span, playClock.now(), durationS))}
        >
          {messages.clearance.startAt(clock(timeS))}
        </button>
        <button type="button" className="btn btn-xs" onClick={() => onMark(endedAt(span, playClock.now()))}>
          {messages.clearance.endAt(clock(timeS))}
        </button>
      </span>
      {span && (
        <span className="flex gap-1">
          <button type="button" className="btn btn-xs" onClick={() => onPlay(span)}>
            <Play size={13} aria-hidden="true" />
            {messages.clearance.playIt}
          </button>
          <button
            type="button"
            className="btn btn-xs btn-primary"
            disabled={isPending}
            onClick={() => findLike({ videoId, ...span })}
          >
            <AudioLines size={13} aria-hidden="true" />
            {isPending ? messages.clearance.listening : messages.clearance.findSoundsLikeIt}
          </button>
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => onMark(null)}>
            <X size={13} aria-hidden="true" />
            {messages.clearance.clear}
          </button>
        </span>
      )}
      {error && (
        <span role="alert" className="text-error">
          {error.message}
        </span>
      )}
    </section>
  )
}
