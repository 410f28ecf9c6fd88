import type { Job, JobsNow } from '../../contract'

/** Puts a job's newest state into the list, newest job first. */
export function withJob(jobs: readonly Job[], job: Job): Job[] {
  return [job, ...jobs.filter(({ id }) => id !== job.id)].sort((a, b) => b.id - a.id)
}

/** Whether a job waits or is being worked on. */
export function isUnderWay(job: Job | null | undefined): job is Job & { state: 'queued' | 'running' } {
  return job?.state === 'queued' || job?.state === 'running'
}

/** What was asked for before the connection stood may have been answered so much earlier, ms. */
const SLACK_MS = 1000

/**
 * The list after the connection was made, or made anew.
 *
 * @param known As it was before. @param now The newest jobs as they are now, in any state, with the time on the server's clock.
 * @param unheardMs How long nothing was heard of jobs, ms: since the last message, or since the page was opened.
 * @returns What is to be shown: what is under way, and what failed since it was last known to be under way; and the jobs that ended while nothing was heard,
 *   those that nobody here knew of too: what is on the page may be older than their end.
 */
export function afterReconnect(
  known: readonly Job[],
  { at, jobs: newest }: JobsNow,
  unheardMs: number,
): { readonly jobs: Job[]; readonly ended: Job[] } {
  const before = new Map(known.map((job) => [job.id, job]))
  const sinceMs = Date.parse(at) - unheardMs - SLACK_MS
  const over = newest.filter((job) => !isUnderWay(job))
  const followed = over.filter(({ id }) => isUnderWay(before.get(id)))
  const unseen = over.filter(
    ({ id, finishedAt }) => !before.has(id) && finishedAt !== null && Date.parse(finishedAt) >= sinceMs,
  )
  const failedBefore = known.filter((job) => job.state === 'failed')
  const shown = [...newest.filter(isUnderWay), ...followed.filter(({ state }) => state === 'failed'), ...failedBefore]
  return { jobs: shown.reduce<Job[]>((list, job) => withJob(list, job), []), ended: [...followed, ...unseen] }
}

/**
 * Which jobs are shown where there is not room for all: what is being done before what waits, and always what the others are part of.
 *
 * @returns At most so many, in the order of the list.
 */
export function shownJobs(jobs: readonly Job[], max: number): Job[] {
  const rank = ({ kind, state }: Job): number => {
    if (kind === 'prepare') return 0
    return state === 'queued' ? 2 : 1
  }
  const chosen = new Set([...jobs].sort((a, b) => rank(a) - rank(b)).slice(0, max))
  return jobs.filter((job) => chosen.has(job))
}
