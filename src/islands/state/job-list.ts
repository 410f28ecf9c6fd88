import type { Job } from '../../contract'

/** Puts a job's newest state into the list, newest job first. */
export function withJob(jobs: readonly Job[], job: Job): Job[] {
  return [job, ...jobs.filter(({ id }) => id !== job.id)].sort((a, b) => b.id - a.id)
}

/** Whether a job waits or is being worked on. */
export function isUnderWay(job: Job | null | undefined): job is Job & { state: 'queued' | 'running' } {
  return job?.state === 'queued' || job?.state === 'running'
}
