import type { Job } from '../../contract'

/** Puts a job's newest state into the list, newest job first. */
export function withJob(jobs: readonly Job[], job: Job): Job[] {
  return [job, ...jobs.filter(({ id }) => id !== job.id)].sort((a, b) => b.id - a.id)
}

/** Whether a job waits or is being worked on. */
export function isUnderWay(job: Job | null | undefined): job is Job & { state: 'queued' | 'running' } {
  return job?.state === 'queued' || job?.state === 'running'
}

/**
 * The list after the connection was made anew.
 *
 * @param known As it was before. @param newest The newest jobs as they are now, in any state.
 * @returns What is to be shown: what is under way, and what failed since it was last known to be under way; and the jobs that ended meanwhile.
 */
export function afterReconnect(
  known: readonly Job[],
  newest: readonly Job[],
): { readonly jobs: Job[]; readonly ended: Job[] } {
  const before = new Map(known.map((job) => [job.id, job]))
  const ended = newest.filter((job) => isUnderWay(before.get(job.id)) && !isUnderWay(job))
  const failedBefore = known.filter((job) => job.state === 'failed')
  const shown = [...newest.filter(isUnderWay), ...ended.filter(({ state }) => state === 'failed'), ...failedBefore]
  return { jobs: shown.reduce<Job[]>((list, job) => withJob(list, job), []), ended }
}
