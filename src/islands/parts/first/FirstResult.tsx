import { Link } from 'wouter'
import type { Video } from '../../../contract'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobs } from '../../api/jobs'
import { VideoStateMark } from '../shared/VideoStateMark'

/** What the check of the first video says, or how far it is. */
export function FirstResult({ video, isNow }: { video: Video | null; isNow: boolean }) {
  const jobs = useJobs()
  if (!video) return <p className="quiet">{messages.first.whichSoundsAreHeardIn}</p>
  const job = jobs.find((one) => one.kind === 'check' && one.subject === String(video.check?.id) && isUnderWay(one))
  const address = `/videos/${video.id}/clearance`
  if (video.check?.state === 'done')
    return (
      <p className="mt-1 flex flex-wrap items-center gap-4" data-testid="first-result">
        <VideoStateMark state={video.state} />
        <Link href={address} className={`btn btn-sm ${isNow ? 'btn-primary' : ''}`}>
          {messages.first.seeTheResult}
        </Link>
      </p>
    )
  return (
    <p className="mt-1 flex items-center gap-3" role="status">
      <span className="min-w-0 truncate">{job?.message || messages.first.waitingToBeListenedTo} …</span>
      <progress
        className="progress progress-primary w-40"
        value={job?.progressFraction ?? 0}
        max={1}
        aria-label={messages.first.check}
      />
    </p>
  )
}
