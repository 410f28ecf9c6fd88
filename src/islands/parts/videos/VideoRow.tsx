import { Film } from 'lucide-react'
import { Link } from 'wouter'
import type { Video, VideoOverview } from '../../../contract'
import { usesInWords } from '../../../core/rights'
import { messages } from '../../../messages'
import { nextStep } from '../../format/next-step'
import { clock, dayWords } from '../../format/words'
import { VideoStateMark } from '../shared/VideoStateMark'

/** A video in the list: what it looks like, how long it is, how it stands, and what is to be done next. */
export function VideoRow({ video, overview }: { video: Video; overview: VideoOverview | null }) {
  const { id, title, uses, state } = video
  const next = nextStep(video, overview)
  return (
    <article
      aria-label={title}
      className="relative grid grid-cols-[9rem_minmax(0,1fr)_minmax(11rem,auto)] items-center gap-5 border-t ruled px-2 py-3 hover:bg-base-200 max-sm:grid-cols-[6rem_minmax(0,1fr)]"
    >
      <Picture videoId={id} overview={overview} />
      <div className="min-w-0">
        <h2 className="truncate text-xl font-semibold">
          {/* The whole row leads to the video; what is to be done next lies above it. */}
          <Link href={`/videos/${id}`} className="after:absolute after:inset-0">
            {title}
          </Link>
        </h2>
        <p className="quiet">
          {usesInWords(uses)}
          {uses.publishOn ? ` · ${dayWords(uses.publishOn)}` : messages.videos.noPublishDate}
        </p>
      </div>
      <div className="grid justify-items-end gap-1 max-sm:col-start-2 max-sm:justify-items-start">
        <VideoStateMark state={state} />
        {next && (
          <Link href={`/videos/${id}/${next.step}`} className="relative underline underline-offset-2">
            {next.words}
          </Link>
        )}
      </div>
    </article>
  )
}

function Picture({ videoId, overview }: { videoId: number; overview: VideoOverview | null }) {
  const { lengthS = null, hasCutPicture = false, filmId = null } = overview ?? {}
  return (
    <div className="relative grid aspect-video place-items-center overflow-hidden rounded bg-base-300">
      {hasCutPicture ? (
        <img src={`/api/videos/${videoId}/picture`} alt="" className="size-full object-cover" />
      ) : filmId !== null ? (
        <video
          src={`/api/exports/${filmId}#t=${(lengthS ?? 0) / 3}`}
          preload="metadata"
          muted
          playsInline
          tabIndex={-1}
          aria-hidden="true"
          className="size-full object-cover"
        />
      ) : (
        <Film size={28} strokeWidth={1.25} aria-hidden="true" className="opacity-50" />
      )}
      {lengthS !== null && (
        <span className="absolute bottom-1 right-1 rounded-sm bg-base-100/85 px-1 text-xs tabular-nums">
          {clock(lengthS)}
        </span>
      )}
    </div>
  )
}
