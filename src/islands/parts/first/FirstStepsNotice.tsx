import { Link } from 'wouter'
import { messages } from '../../../messages'
import { useJobs, usePreparing } from '../../api/jobs'
import { useShell, useVideos } from '../../api/queries'
import { FIRST_STEP_TITLES } from './first-step-words'
import { FIRST_STEPS, firstStepsOf } from './first-steps'

/** How far the first steps are, until all are done, with the way to the next. Nothing while they are being done for whoever looks. */
export function FirstStepsNotice({ className = '' }: { className?: string }) {
  const shell = useShell()
  const videos = useVideos()
  const jobs = useJobs()
  const preparing = usePreparing()
  if (!shell.data || !videos.data || preparing) return null
  const { done, current } = firstStepsOf(shell.data, videos.data.videos, jobs)
  if (current === null) return null
  return (
    <p className={className} data-testid="first-steps-notice">
      {messages.first.firstStepsOfDoneNext(
        done.size,
        FIRST_STEPS.length,
        <Link href="/first-steps" className="underline underline-offset-2">
          {FIRST_STEP_TITLES[current]}
        </Link>,
      )}
    </p>
  )
}
