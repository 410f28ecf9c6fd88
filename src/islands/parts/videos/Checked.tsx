import { messages } from '../../../messages'
import { useJobOf } from '../../api/jobs'
import { useCancelJob, useCheck } from '../../api/queries'
import { startsInWords } from '../../format/places'
import { Clearance } from '../clearance/Clearance'
import { Empty, Failed, Loading } from '../shared/States'

/** The check of a video as it stands: under way with what was heard so far, failed, cancelled, or its clearance. */
export function Checked({ checkId, onBring }: { checkId: number; onBring: () => void }) {
  const query = useCheck(checkId)
  const job = useJobOf('check', String(checkId))
  const cancel = useCancelJob()
  if (query.isPending) return <Loading what={messages.videos.openingTheCheck} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const check = query.data
  if (check.state === 'done') return <Clearance check={check} />
  if (check.state === 'failed' || check.state === 'cancelled')
    return (
      <Empty
        title={
          check.state === 'failed'
            ? messages.videos.couldNotBeChecked(check.fileName)
            : messages.videos.theCheckWasStopped
        }
        action={
          <button type="button" className="btn btn-primary" onClick={onBring}>
            {messages.videos.uploadAnotherFile}
          </button>
        }
      >
        <p>{check.state === 'failed' ? check.message : messages.videos.nothingIsKnownAboutYet(check.fileName)}</p>
      </Empty>
    )
  return (
    <div className="max-w-2xl p-8" role="status">
      <h2 className="mb-3 text-xl font-semibold">{messages.videos.listeningTo(check.fileName)}</h2>
      <progress
        className="progress progress-primary w-full"
        value={job?.progressFraction ?? 0}
        max={1}
        aria-label={messages.videos.check}
      />
      <div className="mt-2 flex items-center justify-between">
        <p className="quiet">{job?.message ?? messages.videos.waiting}</p>
        {check.jobId !== null && (
          <button type="button" className="btn btn-sm" onClick={() => cancel.mutate(check.jobId as number)}>
            {messages.common.stop}
          </button>
        )}
      </div>
      {check.findings.length > 0 && (
        <section aria-label={messages.videos.heardSoFar} className="mt-6">
          <h3 className="font-semibold">{messages.videos.heardSoFar}</h3>
          <ul className="mt-1">
            {check.findings.map((finding) => (
              <li key={finding.soundId} className="flex justify-between gap-4 border-t ruled py-1.5">
                <span className="min-w-0 truncate">{finding.title}</span>
                <span className="quiet whitespace-nowrap">{startsInWords(finding.detections)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}
