import { EventEmitter, setMaxListeners } from 'node:events'
import type { Selectable } from 'kysely'
import type { JOB_KINDS, Job } from '../../contract'
import { jobs as messages } from '../../messages/server/jobs'
import { type Db, nowIso } from '../database/open'
import type { Schema } from '../database/schema'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import { isDiskFull } from '../files/disk-full'
import { loopMonitor } from '../loop-monitor'

/** How a job ended. */
interface JobEnd {
  readonly state: 'done' | 'failed' | 'cancelled'
  readonly message: string
  readonly finished_at: string
  readonly progress_fraction?: number
  /** Written down only while the row is in this state. */
  readonly onlyInState?: string
}

export type JobKind = (typeof JOB_KINDS)[number]

/** What a job's work is given. */
export interface JobContext {
  readonly job: Job
  /** In which format a download was asked for; null where that was left to the library. */
  readonly format: string | null
  readonly signal: AbortSignal
  /** Saves progress (0 to 1) and what is being done; cheap to call often. */
  readonly report: (fraction: number, message: string) => void
}

/** Does a job. Its result must be in the database when it resolves; it must be safe to run again from the start. */
export type JobHandler = (context: JobContext) => Promise<string>

/** A job that keeps breaking off is given up after this many starts. */
const MAX_ATTEMPTS = 3
/** Progress is written this often at most, ms. */
const REPORT_EVERY_MS = 150
/** What could not be written for want of room is tried again after this long, ms. */
const RETRY_MS = 2000
const MAX_CONCURRENT: Readonly<Record<JobKind, number>> = {
  mirror: 4,
  download: 3,
  purchase: 1,
  scan: 1,
  check: 1,
  describe: 1,
  batch: 1,
  group: 1,
  'catch-up': 1,
  sweep: 1,
  verify: 1,
  doctor: 1,
  remake: 2,
  backup: 1,
  cut: 1,
  mix: 1,
  prepare: 1,
}

/**
 * The queue of long work: rows in `jobs`, run by this process one to three at a time for each kind.
 *
 * Emits "job" with a {@link Job} on every change. A job that was running when the process died is queued again by `start`.
 */
export class Jobs extends EventEmitter<{ job: [Job] }> {
  private readonly running = new Map<number, { controller: AbortController; kind: JobKind; done: Promise<void> }>()
  /** How jobs ended that could not be written down yet, by their ids: for want of room. */
  private readonly unwritten = new Map<number, JobEnd>()
  private retry: NodeJS.Timeout | null = null
  private stopping = false
  private pumping: Promise<void> | null = null
  private pumpAgain = false

  constructor(
    private readonly db: Db,
    private readonly handlers: Readonly<Record<JobKind, JobHandler>>,
    /** Puts into words why a job failed. */
    private readonly explain: (error: unknown) => string,
    /** Called when a job has ended, before anyone is told: what the job was about can be brought in line. */
    private readonly onEnd: (job: Job) => Promise<void> = async () => {},
  ) {
    super()
    this.setMaxListeners(0)
  }

  /** Takes up what an earlier process left unfinished and begins to work. */
  async start(): Promise<void> {
    const left = await this.db.selectFrom('jobs').selectAll().where('state', '=', 'running').execute()
    for (const row of left) {
      if (row.attempts >= MAX_ATTEMPTS) await this.finish(row.id, 'failed', messages.givenUpAfterBrokeOff(row.attempts))
      else await this.change(row.id, { state: 'queued', message: messages.takenUpAgainAfterBreak })
    }
    await this.pump()
  }

  /** Queues a job; when one for the same subject is open already, that one is returned. */
  async enqueue(
    kind: JobKind,
    subject: string,
    title: string,
    format: string | null = null,
  ): Promise<{ job: Job; already: boolean }> {
    const inserted = await insertQueued(this.db, { kind, subject, title, format })
    if (inserted) {
      this.emit('job', jobOfRow(inserted))
      this.pumpSoon()
      return { job: jobOfRow(inserted), already: false }
    }
    const open = await this.db
      .selectFrom('jobs')
      .selectAll()
      .where('kind', '=', kind)
      .where('subject', '=', subject)
      .where('state', 'in', ['queued', 'running'])
      .executeTakeFirst()
    // It ended between the two statements: queue it anew.
    return open ? { job: jobOfRow(open), already: true } : this.enqueue(kind, subject, title, format)
  }

  /** Cancels a queued or running job. Returns false when it was over already. */
  async cancel(id: number): Promise<boolean> {
    const running = this.running.get(id)
    if (running) {
      running.controller.abort()
      await running.done
      return true
    }
    const isQueued = (await this.find(id))?.state === 'queued'
    if (isQueued) await this.finish(id, 'cancelled', messages.cancelled, 'queued')
    return isQueued
  }

  /** Cancels what is queued or runs for a subject. */
  async cancelFor(kinds: readonly JobKind[], subject: string): Promise<void> {
    const open = await this.db
      .selectFrom('jobs')
      .select('id')
      .where('kind', 'in', kinds)
      .where('subject', '=', subject)
      .where('state', 'in', ['queued', 'running'])
      .execute()
    for (const { id } of open) await this.cancel(id)
  }

  /** All jobs that run, those that are next to begin, and the newest ended ones; by id, the newest first. */
  async list({ maxQueued = 100, maxEnded = 30 } = {}): Promise<Job[]> {
    const ids = this.db.selectFrom('jobs').select('id')
    const queued = ids.where('state', '=', 'queued').orderBy('id').limit(maxQueued)
    const ended = ids.where('state', 'not in', ['queued', 'running']).orderBy('id', 'desc').limit(maxEnded)
    // One question: a job that goes on meanwhile stands in it once, and is in it.
    const rows = await this.db
      .selectFrom('jobs')
      .selectAll()
      .where((eb) => eb.or([eb('state', '=', 'running'), eb('id', 'in', queued), eb('id', 'in', ended)]))
      .orderBy('id', 'desc')
      .execute()
    return rows.map((row) => this.asItIs(jobOfRow(row)))
  }

  async find(id: number): Promise<Job | null> {
    const row = await this.db.selectFrom('jobs').selectAll().where('id', '=', id).executeTakeFirst()
    return row ? this.asItIs(jobOfRow(row)) : null
  }

  /** A job whose end could not be written down is over all the same. */
  private asItIs(job: Job): Job {
    const end = this.unwritten.get(job.id)
    return end ? { ...job, state: end.state, message: end.message, finishedAt: end.finished_at } : job
  }

  /** Resolves when nothing is queued or running. */
  async idle(): Promise<void> {
    for (;;) {
      await this.pump()
      const open = [...this.running.values()].map(({ done }) => done)
      if (open.length === 0) return
      await Promise.all(open)
    }
  }

  /** Lets go of running work without ending it in the database, so that the next start takes it up. */
  async stop(): Promise<void> {
    this.stopping = true
    if (this.retry) clearTimeout(this.retry)
    // What is just being begun is stopped too.
    await this.pumping?.catch(() => undefined)
    for (const { controller } of this.running.values()) controller.abort()
    await Promise.all([...this.running.values()].map(({ done }) => done))
  }

  private pump(): Promise<void> {
    this.pumpAgain = true
    this.pumping ??= (async () => {
      while (this.pumpAgain) {
        this.pumpAgain = false
        await this.startWaiting()
      }
    })().finally(() => {
      this.pumping = null
    })
    return this.pumping
  }

  private async startWaiting(): Promise<void> {
    if (this.stopping) return
    const waiting = await this.db.selectFrom('jobs').selectAll().where('state', '=', 'queued').orderBy('id').execute()
    for (const row of waiting) {
      if (this.stopping) return
      const kind = row.kind as JobKind
      const busy = [...this.running.values()].filter((entry) => entry.kind === kind).length
      if (busy >= MAX_CONCURRENT[kind] || this.running.has(row.id) || this.unwritten.has(row.id)) continue
      // It may have been cancelled since it was read.
      const begun = await this.change(
        row.id,
        { state: 'running', attempts: row.attempts + 1, message: messages.starting },
        'queued',
      )
      if (!begun) continue
      const controller = new AbortController()
      // Every task and request of a job listens to its one signal.
      setMaxListeners(0, controller.signal)
      const done = this.work({ ...jobOfRow(row), state: 'running' }, row.format, controller)
      this.running.set(row.id, { controller, kind, done })
    }
  }

  private async work(job: Job, format: string | null, controller: AbortController): Promise<void> {
    const endMonitoring = loopMonitor().begin(`job ${job.kind} ${job.subject}`)
    let lastMs = 0
    let later: NodeJS.Timeout | undefined
    const report = (fraction: number, message: string): void => {
      clearTimeout(later)
      const waitMs = lastMs + REPORT_EVERY_MS - performance.now()
      // What is told last stays for long where nothing follows: it is not left out.
      if (waitMs > 0) {
        later = setTimeout(() => report(fraction, message), waitMs)
        return
      }
      lastMs = performance.now()
      const progress = { progress_fraction: Math.max(0, Math.min(1, fraction)), message }
      // How far it is may be left out, and nobody waits for the disk for it; how it ended may not.
      unhurriedTransaction(this.db, (trx) => changed(trx, job.id, progress, 'running'))
        .then((row) => row && this.notify(jobOfRow(row)))
        .catch(() => {})
    }
    try {
      const message = await this.handlers[job.kind]({ job, format, signal: controller.signal, report })
      await this.finish(job.id, 'done', message)
    } catch (error) {
      if (controller.signal.aborted && this.stopping) await this.putBack(job.id)
      else if (controller.signal.aborted) await this.finish(job.id, 'cancelled', messages.cancelled)
      else await this.finish(job.id, 'failed', this.explain(error))
    } finally {
      clearTimeout(later)
      endMonitoring()
      this.running.delete(job.id)
      this.pumpSoon()
    }
  }

  /** Begins what can begin. Where there is no room to write that down, it is tried again later. */
  private pumpSoon(): void {
    this.pump().catch((error: unknown) => {
      if (isDiskFull(error)) this.retryLater()
      else console.error(error)
    })
  }

  private retryLater(): void {
    if (this.retry || this.stopping) return
    this.retry = setTimeout(() => {
      this.retry = null
      void this.writeEnds().finally(() => this.pumpSoon())
    }, RETRY_MS)
    this.retry.unref()
  }

  /** Writes down how jobs ended, as soon as there is room for it. */
  private async writeEnds(): Promise<void> {
    for (const [id, { onlyInState, ...end }] of this.unwritten) {
      try {
        await this.change(id, end, onlyInState)
        this.unwritten.delete(id)
      } catch (error) {
        if (!isDiskFull(error)) console.error(error)
        this.retryLater()
        return
      }
    }
  }

  /** A job that is interrupted by an orderly end has not failed: the next start goes on with it, however often that happens. */
  private async putBack(id: number): Promise<void> {
    await this.db
      .updateTable('jobs')
      .set((eb) => ({ state: 'queued', attempts: eb('attempts', '-', 1), message: messages.waitingForTheNextStart }))
      .where('id', '=', id)
      .execute()
      .catch((error: unknown) => {
        // It stays as running, and the next start takes it for one that broke off.
        if (!isDiskFull(error)) throw error
      })
  }

  /** Ends a job. Where that cannot be written down, it counts as ended, and is written down as soon as there is room. */
  private async finish(id: number, state: JobEnd['state'], message: string, onlyInState?: string): Promise<void> {
    const end = {
      state,
      message,
      finished_at: nowIso(),
      ...(state === 'done' ? { progress_fraction: 1 } : {}),
    }
    try {
      await this.change(id, end, onlyInState)
    } catch (error) {
      if (!isDiskFull(error)) throw error
      this.unwritten.set(id, { ...end, ...(onlyInState === undefined ? {} : { onlyInState }) })
      this.retryLater()
      const job = await this.find(id)
      if (job) this.emit('job', job)
    }
  }

  private async change(id: number, values: JobValues, onlyInState?: string): Promise<boolean> {
    const row = await changed(this.db, id, values, onlyInState)
    if (row) await this.notify(jobOfRow(row))
    return row !== undefined
  }

  private async notify(job: Job): Promise<void> {
    if (job.finishedAt !== null) await this.onEnd(job)
    this.emit('job', job)
  }
}

type JobValues = Partial<Omit<Selectable<Schema['jobs']>, 'id'>>

function changed(
  db: Db,
  id: number,
  values: JobValues,
  onlyInState?: string,
): Promise<Selectable<Schema['jobs']> | undefined> {
  let query = db.updateTable('jobs').set(values).where('id', '=', id)
  if (onlyInState) query = query.where('state', '=', onlyInState)
  return query.returningAll().executeTakeFirst()
}

/** Writes a job down, for whoever runs the queue of this database. @returns Undefined when one for the same subject is open. */
export function insertQueued(
  db: Db,
  { format = null, ...job }: { kind: JobKind; subject: string; title: string; format?: string | null },
): Promise<Selectable<Schema['jobs']> | undefined> {
  return db
    .insertInto('jobs')
    .values({ ...job, format, state: 'queued', created_at: nowIso(), finished_at: null, message: messages.waiting })
    .onConflict((conflict) => conflict.doNothing())
    .returningAll()
    .executeTakeFirst()
}

function jobOfRow(row: Selectable<Schema['jobs']>): Job {
  return {
    id: row.id,
    kind: row.kind as JobKind,
    subject: row.subject,
    title: row.title,
    state: row.state as Job['state'],
    progressFraction: row.progress_fraction,
    message: row.message,
    createdAt: row.created_at,
    finishedAt: row.finished_at,
  }
}
