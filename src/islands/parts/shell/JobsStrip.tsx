import { X } from 'lucide-react'
import { messages } from '../../../messages'
import { isUnderWay, shownJobs } from '../../api/job-list'
import { useDismissJob, useJobs } from '../../api/jobs'
import { useCancelJob } from '../../api/queries'

const SHOWN_MAX = 4

/** What is being done in the background, with a way to stop it. Nothing while all is quiet. */
export function JobsStrip() {
  const jobs = useJobs()
  const cancel = useCancelJob()
  const dismiss = useDismissJob()
  const shown = shownJobs(jobs, SHOWN_MAX)
  if (shown.length === 0) return null
  return (
    <section
      aria-label={messages.shell.workInTheBackground}
      className="fixed right-4 bottom-20 z-30 w-80 space-y-2"
      aria-live="polite"
    >
      {shown.map((job) => {
        const open = isUnderWay(job)
        return (
          <div key={job.id} className="rounded border ruled bg-base-200 px-3 py-2 text-sm shadow">
            <div className="flex items-start justify-between gap-2">
              <span className="min-w-0 truncate font-semibold">{job.title}</span>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`${open ? messages.common.cancel : messages.common.close}: ${job.title}`}
                onClick={() => (open ? cancel.mutate(job.id) : dismiss(job.id))}
              >
                <X size={14} aria-hidden="true" />
              </button>
            </div>
            <p className={job.state === 'failed' ? 'text-error' : 'quiet'}>{job.message}</p>
            {open && (
              <progress
                className="progress progress-primary mt-1 h-1.5 w-full"
                value={job.progressFraction}
                max={1}
                aria-label={messages.shell.progress(job.title)}
              />
            )}
          </div>
        )
      })}
    </section>
  )
}
