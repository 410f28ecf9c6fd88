import fs from 'node:fs'
import { sql } from 'kysely'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import type { Job } from '../../contract'
import { type Db, nowIso, openDatabase } from '../database/open'
import { type JobContext, type JobHandler, Jobs } from './jobs'

let dir: string
let db: Db
beforeEach(async () => {
  dir = temporaryDir('jobs')
  db = await openDatabase(dir)
})
afterEach(async () => {
  await db.destroy()
  fs.rmSync(dir, { recursive: true })
})

function jobsDoing(work: JobHandler): Jobs {
  return new Jobs(
    db,
    {
      mirror: work,
      download: work,
      purchase: work,
      scan: work,
      check: work,
      describe: work,
      batch: work,
      group: work,
      'catch-up': work,
      sweep: work,
      verify: work,
      doctor: work,
      remake: work,
      backup: work,
      cut: work,
      mix: work,
      prepare: work,
    },
    (error) => `It failed: ${(error as Error).message}`,
  )
}

/** A work that waits until it is let go, and tells when it began. */
function held() {
  let begin: (context: JobContext) => void = () => {}
  let letGo: (message: string) => void = () => {}
  const begun = new Promise<JobContext>((resolve) => {
    begin = resolve
  })
  const end = new Promise<string>((resolve) => {
    letGo = resolve
  })
  const work: JobHandler = (context) => {
    begin(context)
    return Promise.race([
      end,
      new Promise<string>((_resolve, reject) =>
        context.signal.addEventListener('abort', () => reject(context.signal.reason), { once: true }),
      ),
    ])
  }
  return { work, begun, letGo }
}

describe('Jobs', () => {
  it('does a job and tells of every change', async () => {
    const jobs = jobsDoing(async ({ report }) => {
      report(0.4, 'In the middle')
      return 'All done'
    })
    const seen: Job[] = []
    jobs.on('job', (job) => seen.push(job))
    const { job, already } = await jobs.enqueue('download', '7', 'Downloading')
    await jobs.idle()
    expect(already).toBe(false)
    expect(await jobs.find(job.id)).toMatchObject({
      state: 'done',
      message: 'All done',
      progressFraction: 1,
      subject: '7',
    })
    expect(new Set(seen.map(({ state }) => state))).toEqual(new Set(['queued', 'running', 'done']))
    expect((await jobs.find(job.id))?.finishedAt).toMatch(/Z$/)
  })

  it('tells what was said last, however soon after something else', { tags: 'long' }, async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    const told: string[] = []
    jobs.on('job', ({ message }) => told.push(message))
    const { job } = await jobs.enqueue('scan', '1', 'S')
    const { report } = await begun
    for (let at = 0; at < 50; at++) report(at / 100, `Part ${at}`)
    while (!told.includes('Part 49')) await new Promise((resolve) => setTimeout(resolve, 20))
    expect(await jobs.find(job.id)).toMatchObject({ progressFraction: 0.49, message: 'Part 49' })
    expect(told.filter((message) => message.startsWith('Part')).length).toBeLessThan(10)
    letGo('done')
    await jobs.idle()
    expect(told.at(-1)).toBe('done')
  })

  it('does not queue the same thing twice while it is open', async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    const first = await jobs.enqueue('check', '1', 'Checking')
    await begun
    const second = await jobs.enqueue('check', '1', 'Checking')
    expect(second).toMatchObject({ already: true, job: { id: first.job.id } })
    letGo('done')
    await jobs.idle()
    expect((await jobs.enqueue('check', '1', 'Checking')).job.id).not.toBe(first.job.id)
    await jobs.idle()
  })

  it('queues it once when it is asked for at the same time', async () => {
    const { work, letGo } = held()
    const jobs = jobsDoing(work)
    const asked = await Promise.all(Array.from({ length: 8 }, () => jobs.enqueue('download', '3', 'D')))
    expect(new Set(asked.map(({ job }) => job.id)).size).toBe(1)
    expect(asked.filter(({ already }) => !already)).toHaveLength(1)
    letGo('done')
    await jobs.idle()
  })

  it('runs one check at a time, in order', async () => {
    let running = 0
    let most = 0
    const order: string[] = []
    const jobs = jobsDoing(async ({ job }) => {
      running++
      most = Math.max(most, running)
      order.push(job.subject)
      await new Promise((resolve) => setImmediate(resolve))
      running--
      return ''
    })
    for (const subject of ['1', '2', '3', '4']) await jobs.enqueue('check', subject, 'C')
    await jobs.idle()
    expect(most).toBe(1)
    expect(order).toEqual(['1', '2', '3', '4'])
  })

  it('says why a job failed, and goes on with the next', async () => {
    const jobs = jobsDoing(async ({ job }) => {
      if (job.subject === 'bad') throw new Error('no such thing')
      return 'fine'
    })
    const bad = await jobs.enqueue('check', 'bad', 'C')
    const good = await jobs.enqueue('check', 'good', 'C')
    await jobs.idle()
    expect(await jobs.find(bad.job.id)).toMatchObject({ state: 'failed', message: 'It failed: no such thing' })
    expect(await jobs.find(good.job.id)).toMatchObject({ state: 'done' })
  })

  it('cancels a running job through its signal', async () => {
    const { work, begun } = held()
    const jobs = jobsDoing(work)
    const { job } = await jobs.enqueue('check', '1', 'C')
    const context = await begun
    expect(await jobs.cancel(job.id)).toBe(true)
    expect(context.signal.aborted).toBe(true)
    expect(await jobs.find(job.id)).toMatchObject({ state: 'cancelled' })
    expect(await jobs.cancel(job.id)).toBe(false)
  })

  it('cancels a waiting job before it begins', async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    await jobs.enqueue('check', '1', 'C')
    await begun
    const waiting = await jobs.enqueue('check', '2', 'C')
    expect(await jobs.cancel(waiting.job.id)).toBe(true)
    letGo('done')
    await jobs.idle()
    expect(await jobs.find(waiting.job.id)).toMatchObject({ state: 'cancelled' })
  })

  it('takes up what was running when the process died', async () => {
    const left = await db
      .insertInto('jobs')
      .values({
        kind: 'check',
        subject: '9',
        title: 'C',
        state: 'running',
        attempts: 1,
        created_at: nowIso(),
        progress_fraction: 0.5,
        message: '',
        finished_at: null,
      })
      .returning('id')
      .executeTakeFirstOrThrow()
    const done: string[] = []
    const jobs = jobsDoing(async ({ job }) => {
      done.push(job.subject)
      return ''
    })
    await jobs.start()
    await jobs.idle()
    expect(done).toEqual(['9'])
    expect(await jobs.find(left.id)).toMatchObject({ state: 'done' })
  })

  it('gives up a job that keeps breaking off', async () => {
    const left = await db
      .insertInto('jobs')
      .values({
        kind: 'check',
        subject: '9',
        title: 'C',
        state: 'running',
        attempts: 3,
        created_at: nowIso(),
        progress_fraction: 0,
        message: '',
        finished_at: null,
      })
      .returning('id')
      .executeTakeFirstOrThrow()
    const jobs = jobsDoing(async () => 'never')
    await jobs.start()
    await jobs.idle()
    expect(await jobs.find(left.id)).toMatchObject({ state: 'failed', message: expect.stringContaining('3 times') })
  })

  it('leaves running work to the next start when it is stopped', async () => {
    const { work, begun } = held()
    const jobs = jobsDoing(work)
    const { job } = await jobs.enqueue('check', '1', 'C')
    await begun
    await jobs.stop()
    expect(await jobs.find(job.id)).toMatchObject({ state: 'queued' })
    const next = jobsDoing(async () => 'the second time')
    await next.start()
    await next.idle()
    expect(await next.find(job.id)).toMatchObject({ state: 'done', message: 'the second time' })
  })

  it('never starts a job that was cancelled while it was about to start', async () => {
    const started: string[] = []
    const jobs = jobsDoing(async ({ job }) => {
      started.push(job.subject)
      return ''
    })
    // Asked for and cancelled in one breath, many times: some are read as waiting before they are cancelled.
    for (let round = 0; round < 40; round++) {
      const queued = jobs.enqueue('check', String(round), 'C')
      const cancelling = queued.then(({ job }) => jobs.cancel(job.id))
      await Promise.all([queued, cancelling])
      await jobs.idle()
      const { job } = await queued
      const ended = await jobs.find(job.id)
      if (ended?.state === 'cancelled' && (await cancelling)) expect(started).not.toContain(String(round))
      expect(['cancelled', 'done']).toContain(ended?.state)
    }
  })

  it('does not start what is cancelled between being read and being begun', async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    await jobs.enqueue('check', '1', 'C')
    await begun
    const { job } = await jobs.enqueue('check', '2', 'C')
    // Another process cancels it: the queue here does not hear of it.
    await db.updateTable('jobs').set({ state: 'cancelled', finished_at: nowIso() }).where('id', '=', job.id).execute()
    letGo('done')
    await jobs.idle()
    expect(await jobs.find(job.id)).toMatchObject({ state: 'cancelled' })
  })

  it('lives through any number of orderly restarts', async () => {
    const first = held()
    let jobs = jobsDoing(first.work)
    const { job } = await jobs.enqueue('check', '1', 'C')
    await first.begun
    for (let restart = 0; restart < 5; restart++) {
      await jobs.stop()
      const next = held()
      jobs = jobsDoing(next.work)
      await jobs.start()
      await next.begun
    }
    const row = await db.selectFrom('jobs').select('attempts').where('id', '=', job.id).executeTakeFirstOrThrow()
    expect(row.attempts).toBe(1)
    await jobs.stop()
    const last = jobsDoing(async () => 'at last')
    await last.start()
    await last.idle()
    expect(await last.find(job.id)).toMatchObject({ state: 'done', message: 'at last' })
  })

  it('is over for what was just about to begin, too: nothing works on after it', async () => {
    let working = 0
    const jobs = jobsDoing(async ({ signal }) => {
      working++
      await new Promise((resolve) => signal.addEventListener('abort', resolve, { once: true }))
      working--
      throw signal.reason
    })
    const { job } = await jobs.enqueue('check', '1', 'C')
    // It is queued, and the queue is reading it at this very moment.
    await jobs.stop()
    await new Promise((resolve) => setImmediate(resolve))
    expect(working).toBe(0)
    expect(await jobs.find(job.id)).toMatchObject({ state: 'queued' })
  })
})

describe('the list of jobs', () => {
  it('has what runs and what is next, however much waits behind it', async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    const { job } = await jobs.enqueue('scan', 'first', 'First')
    await begun
    for (let at = 0; at < 40; at++) await jobs.enqueue('scan', `later ${at}`, `Later ${at}`)
    const list = await jobs.list({ maxQueued: 5, maxEnded: 2 })
    expect(list.find(({ id }) => id === job.id)?.state).toBe('running')
    expect(list.map(({ title }) => title)).toEqual(['Later 4', 'Later 3', 'Later 2', 'Later 1', 'Later 0', 'First'])
    letGo('done')
    await jobs.idle()
    expect((await jobs.list({ maxEnded: 2 })).map(({ title }) => title)).toEqual(['Later 39', 'Later 38'])
    await jobs.stop()
  })
})

describe('a disk that is full', () => {
  const pages = async (): Promise<number> =>
    Number(Object.values((await sql.raw('PRAGMA page_count').execute(db)).rows[0] as object)[0])
  const limitTo = (count: number) => sql.raw(`PRAGMA max_page_count = ${count}`).execute(db)
  const rowState = async (id: number) =>
    (await db.selectFrom('jobs').select('state').where('id', '=', id).executeTakeFirst())?.state

  it('keeps no job running whose end could not be written; that is done when there is room', {
    tags: 'long',
  }, async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    const told: string[] = []
    jobs.on('job', ({ state }) => told.push(state))
    const { job } = await jobs.enqueue('scan', 'x', 'X')
    await begun
    await limitTo(await pages())
    letGo('It is over. '.repeat(100_000))
    await jobs.idle()
    expect(await rowState(job.id)).toBe('running')
    expect(await jobs.find(job.id)).toMatchObject({ state: 'done', finishedAt: expect.any(String) })
    expect((await jobs.list())[0]?.state).toBe('done')
    expect(told.at(-1)).toBe('done')
    // It is over: there is nothing to stop.
    expect(await jobs.cancel(job.id)).toBe(false)
    await limitTo(1_000_000)
    while ((await rowState(job.id)) === 'running') await new Promise((resolve) => setTimeout(resolve, 50))
    expect(await rowState(job.id)).toBe('done')
    await jobs.stop()
  })

  it('stops nobody from cancelling what waits', { tags: 'long' }, async () => {
    const { work, begun, letGo } = held()
    const jobs = jobsDoing(work)
    await jobs.enqueue('scan', 'first', 'First')
    await begun
    const { job } = await jobs.enqueue('scan', 'second', 'Second')
    const update = db.updateTable.bind(db)
    db.updateTable = (() => {
      throw Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' })
    }) as never
    expect(await jobs.cancel(job.id)).toBe(true)
    expect(await jobs.find(job.id)).toMatchObject({ state: 'cancelled' })
    db.updateTable = update
    letGo('done')
    await jobs.idle()
    while ((await rowState(job.id)) === 'queued') await new Promise((resolve) => setTimeout(resolve, 50))
    expect(await rowState(job.id)).toBe('cancelled')
    await jobs.stop()
  })
})
