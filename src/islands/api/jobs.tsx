import { useQueryClient } from '@tanstack/react-query'
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react'
import { Job, JobsNow } from '../../contract'
import { afterReconnect, isUnderWay, withJob } from './job-list'

interface JobsValue {
  readonly jobs: readonly Job[]
  /** Takes a job that has ended off the list. */
  dismiss(id: number): void
}

const JobsContext = createContext<JobsValue>({ jobs: [], dismiss: () => {} })

/** Queries that a finished job of each kind makes stale. */
const STALE_AFTER: Readonly<Record<Job['kind'], readonly string[]>> = {
  mirror: ['sources', 'sounds', 'sound', 'counts', 'shelf', 'state', 'check', 'videos', 'papers', 'desk'],
  download: ['sounds', 'sound', 'counts', 'shelf', 'check', 'videos', 'sources', 'papers', 'desk'],
  purchase: ['sounds', 'sound', 'counts', 'shelf', 'check', 'videos', 'sources', 'papers', 'desk'],
  scan: ['sources', 'sounds', 'sound', 'counts', 'shelf', 'state', 'proposals', 'papers', 'desk'],
  check: ['check', 'videos', 'desk', 'papers'],
  describe: ['sounds', 'sound', 'counts'],
  sweep: ['room', 'files', 'videos', 'ledger'],
  verify: ['ledger'],
  doctor: ['doctor', 'room', 'desk'],
  remake: ['sounds', 'doctor'],
  backup: ['backup'],
  cut: ['moments', 'suggestions', 'videos'],
  mix: ['score'],
  prepare: ['state', 'videos', 'moments', 'score', 'shelf', 'desk', 'papers', 'sources', 'sounds', 'counts'],
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
  const live = useRef(jobs)
  live.current = jobs
  useEffect(() => {
    const events = new EventSource('/api/jobs/events')
    /** When something was heard last, ms since the page was opened. */
    let heardMs = 0
    const timers = new Set<ReturnType<typeof setTimeout>>()
    const makeStale = (job: Job): void => {
      for (const key of STALE_AFTER[job.kind]) void client.invalidateQueries({ queryKey: [key] })
    }
    events.addEventListener('jobs', (event) => {
      const now = JobsNow.parse(JSON.parse((event as MessageEvent<string>).data))
      const { jobs: shown, ended } = afterReconnect(live.current, now, performance.now() - heardMs)
      heardMs = performance.now()
      setJobs(shown)
      ended.forEach(makeStale)
    })
    events.addEventListener('job', (event) => {
      const job = Job.parse(JSON.parse((event as MessageEvent<string>).data))
      heardMs = performance.now()
      const isNew = !live.current.some(({ id }) => id === job.id)
      setJobs((known) => withJob(known, job))
      // What it checks may have been added elsewhere.
      if (isNew && job.kind === 'check')
        for (const key of ['videos', 'state']) void client.invalidateQueries({ queryKey: [key] })
      if (isUnderWay(job)) {
        if (job.kind === 'check')
          void client.invalidateQueries({ queryKey: ['check', Number(job.subject)], refetchType: 'none' })
        return
      }
      makeStale(job)
      if (job.state === 'failed') return
      timers.add(setTimeout(() => setJobs((known) => known.filter(({ id }) => id !== job.id)), LINGER_MS))
    })
    return () => {
      events.close()
      for (const timer of timers) clearTimeout(timer)
    }
  }, [client])
  const dismiss = useCallback((id: number) => setJobs((known) => known.filter((job) => job.id !== id)), [])
  const value = useMemo(() => ({ jobs, dismiss }), [jobs, dismiss])
  return <JobsContext value={value}>{children}</JobsContext>
}

/** Open jobs and those that ended a moment ago. */
export function useJobs(): readonly Job[] {
  return useContext(JobsContext).jobs
}

/** What fills an empty folder, as long as that is not done; its title says what it is. */
export function usePreparing(): Job | null {
  return useJobs().find((job) => job.kind === 'prepare' && isUnderWay(job)) ?? null
}

/** Takes a job that has ended off the list. */
export function useDismissJob(): (id: number) => void {
  return useContext(JobsContext).dismiss
}

/** The open or just ended job about a subject, if any. */
export function useJobOf(kind: Job['kind'], subject: string): Job | null {
  const jobs = useJobs()
  return useMemo(() => jobs.find((job) => job.kind === kind && job.subject === subject) ?? null, [jobs, kind, subject])
}
