import { useQueryClient } from '@tanstack/react-query'
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react'
import { Job } from '../../contract'
import { isUnderWay, withJob } from './job-list'

const JobsContext = createContext<readonly Job[]>([])

/** Queries that a finished job of each kind makes stale. */
const STALE_AFTER: Readonly<Record<Job['kind'], readonly string[]>> = {
  mirror: ['sources', 'sounds', 'sound', 'counts', 'shelf', 'state', 'check', 'videos', 'papers', 'desk'],
  download: ['sounds', 'sound', 'counts', 'shelf', 'check', 'videos', 'sources', 'papers', 'desk'],
  purchase: ['sounds', 'sound', 'counts', 'shelf', 'check', 'videos', 'sources', 'papers', 'desk'],
  scan: ['sources', 'sounds', 'sound', 'counts', 'shelf', 'state', 'proposals', 'papers', 'desk'],
  check: ['check', 'videos', 'desk', 'papers'],
  describe: ['sounds', 'sound', 'counts'],
  group: ['check', 'videos', 'shelf', 'desk'],
  'catch-up': ['check', 'videos', 'desk', 'sounds', 'sound', 'shelf'],
  batch: ['sounds', 'sound', 'check', 'videos', 'sources', 'papers', 'desk', 'shelf', 'batch'],
}
/** Ended jobs stay visible this long, ms. */
const LINGER_MS = 6000

/** Follows the jobs of the application through server-sent events. */
export function JobsProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient()
  const [jobs, setJobs] = useState<readonly Job[]>([])
  useEffect(() => {
    const events = new EventSource('/api/jobs/events')
    const timers = new Set<ReturnType<typeof setTimeout>>()
    events.addEventListener('job', (event) => {
      const job = Job.parse(JSON.parse((event as MessageEvent<string>).data))
      setJobs((known) => withJob(known, job))
      if (isUnderWay(job)) {
        if (job.kind === 'check')
          void client.invalidateQueries({ queryKey: ['check', Number(job.subject)], refetchType: 'none' })
        return
      }
      for (const key of STALE_AFTER[job.kind]) void client.invalidateQueries({ queryKey: [key] })
      if (job.state === 'failed') return
      timers.add(setTimeout(() => setJobs((known) => known.filter(({ id }) => id !== job.id)), LINGER_MS))
    })
    return () => {
      events.close()
      for (const timer of timers) clearTimeout(timer)
    }
  }, [client])
  return <JobsContext value={jobs}>{children}</JobsContext>
}

/** Open jobs and those that ended a moment ago. */
export function useJobs(): readonly Job[] {
  return useContext(JobsContext)
}

/** The open or just ended job about a subject, if any. */
export function useJobOf(kind: Job['kind'], subject: string): Job | null {
  const jobs = useJobs()
  return useMemo(() => jobs.find((job) => job.kind === kind && job.subject === subject) ?? null, [jobs, kind, subject])
}
