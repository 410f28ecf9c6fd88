import type { Cut, VideoMoments } from '../../../contract'
import type { Moment } from '../../../core/moments'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useReadCutAgain } from '../../api/moments-queries'
import { useCancelJob } from '../../api/queries'
import { useRemove } from '../../api/room-queries'
import { momentWords, sizeWords } from '../../format/words'

/** How far the reading of the newest version is, or why it failed. */
export function CutProgress({ version, videoId }: { version: VideoMoments['versions'][number]; videoId: number }) {
  const job = useJobOf('cut', String(version.id))
  const cancel = useCancelJob()
  const again = useReadCutAgain(videoId)
  if (version.state === 'done') return null
  if (version.state === 'failed' || version.state === 'cancelled')
    return (
      <div role="alert" className="mb-3 flex flex-wrap items-center gap-4 rounded border ruled px-4 py-2">
        <p className="flex-1">
          {version.state === 'failed'
            ? messages.moments.couldNotBeRead(version.fileName, version.message)
            : messages.moments.readingWasStopped(version.fileName)}
        </p>
        <button
          type="button"
          className="btn btn-sm"
          disabled={again.isPending}
          onClick={() => again.mutate(version.id)}
        >
          {messages.common.tryAgain}
        </button>
      </div>
    )
  return (
    <div role="status" className="mb-3 flex items-center gap-4 rounded border ruled px-4 py-2">
      <span className="min-w-0 truncate">{messages.moments.reading(version.fileName)}</span>
      <progress
        className="progress progress-primary flex-1"
        value={isUnderWay(job) ? job.progressFraction : 0}
        max={1}
        aria-label={messages.moments.readingTheCut}
      />
      <span className="quiet w-56 truncate text-sm">{job?.message ?? messages.moments.waiting}</span>
      {version.jobId !== null && (
        <button type="button" className="btn btn-sm" onClick={() => cancel.mutate(version.jobId as number)}>
          {messages.common.cancel}
        </button>
      )}
    </div>
  )
}

interface CarriedNoticeProps {
  readonly cut: Cut
  readonly moments: readonly Moment[]
  readonly timecode: (timeS: number) => string
  readonly onChoose: (id: string) => void
}

const WHAT_WORDS = {
  moved: 'moved',
  'cut-out': messages.moments.wasCutOut,
  unsure: messages.moments.movedNotSure,
} as const

/** What a new cut did to the moments. */
export function CarriedNotice({ cut, moments, timecode, onChoose }: CarriedNoticeProps) {
  const { carried } = cut
  if (!carried) return null
  if (carried.note)
    return (
      <p role="status" className="mb-3 rounded border ruled px-4 py-2">
        {carried.note}
      </p>
    )
  const out = carried.carried.filter(({ what }) => what === 'cut-out').length
  const nameOf = (id: string): string => moments.find((moment) => moment.id === id)?.words || messages.moments.aMoment
  return (
    <details className="mb-3 rounded border ruled px-4 py-2" data-testid="carried">
      <summary className="cursor-pointer">
        {messages.moments.withMoved(cut.fileName, messages.counts.moments(carried.carried.length - out))}
        {out > 0 && messages.moments.lostPlace(out)}
        {messages.moments.stayed(carried.stayed)}
      </summary>
      <ul aria-label={messages.moments.whatTheNewCutChanged} className="mt-1 max-h-48 overflow-y-auto text-sm">
        {carried.carried.map(({ id, what, fromS, toS }) => (
          <li key={id} className="flex gap-3 border-t ruled py-1">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left underline-offset-2 hover:underline"
              onClick={() => onChoose(id)}
            >
              {nameOf(id)}
            </button>
            <span className="tabular-nums">
              {timecode(fromS)} → {timecode(toS)}
            </span>
            <span className={`w-32 ${what === 'cut-out' ? 'text-error' : 'quiet'}`}>{WHAT_WORDS[what]}</span>
          </li>
        ))}
      </ul>
    </details>
  )
}

/** The versions of the cut that are still here. */
export function CutVersions({ versions, shownId }: { versions: VideoMoments['versions']; shownId: number | null }) {
  const remove = useRemove('cuts')
  if (versions.length < 2) return null
  return (
    <section aria-label={messages.moments.versionsOfTheCut} className="mt-6 border-t ruled pt-3">
      <h2 className="text-lg font-semibold">{messages.moments.versionsOfTheCut}</h2>
      <ul>
        {versions.map(({ id, fileName, sizeBytes, broughtAt }) => (
          <li key={id} className="flex items-center gap-4 border-b ruled py-1.5">
            <span className="min-w-0 flex-1 truncate">
              {fileName} {id === shownId && <span className="quiet">{messages.moments.shown}</span>}
            </span>
            <span className="quiet whitespace-nowrap text-sm">
              {sizeWords(sizeBytes)}, {momentWords(broughtAt)}
            </span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={messages.moments.remove(fileName)}
              disabled={remove.isPending}
              onClick={() => remove.mutate({ id, words: messages.moments.wasRemoved(fileName) })}
            >
              {messages.common.remove}
            </button>
          </li>
        ))}
      </ul>
      {remove.error && (
        <p role="alert" className="text-error">
          {remove.error.message}
        </p>
      )}
    </section>
  )
}
