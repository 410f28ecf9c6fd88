import fs from 'node:fs'
import path from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { openApp } from '../src/server/app'
import type { App } from '../src/server/context'
import type { Preparation, PreparingStep } from '../src/server/preparing'
import { findSetting } from '../src/server/settings'
import { createPools } from '../src/server/workers/pool'
import { NODE_DIR, temporaryDir } from './world'

const KEY = 'preparation-of-this-test'
const holder = globalThis as Record<string, unknown>
const pools = createPools(NODE_DIR)

let dir: string
let module: string
let app: App | null
beforeEach(() => {
  dir = temporaryDir('preparing')
  module = path.join(dir, 'prepare.mjs')
  fs.writeFileSync(module, `export const preparation = globalThis['${KEY}']`)
  app = null
})
afterEach(async () => {
  await app?.close()
  fs.rmSync(dir, { recursive: true })
})

/** Opens the folder with what it is to be filled with. A new module each time: one is read once. */
async function open(steps: readonly PreparingStep[], preparedBy: string | undefined = module): Promise<App> {
  holder[KEY] = { title: 'Preparing', steps } satisfies Preparation
  const fresh = preparedBy && `${preparedBy.slice(0, -4)}-${Math.random()}.mjs`
  if (fresh) fs.copyFileSync(module, fresh)
  app = await openApp({
    dataDir: path.join(dir, 'data'),
    nodeDir: NODE_DIR,
    libraries: {},
    pools,
    ...(fresh ? { preparedBy: fresh } : {}),
  })
  return app
}

async function close(): Promise<void> {
  await app?.close()
  app = null
}

function step(id: string, run: PreparingStep['run'], more: Partial<PreparingStep> = {}): PreparingStep {
  return { id, words: `doing ${id}`, typicalS: 1, kinds: [], run, ...more }
}

/** The newest job of the kind. */
async function preparing({ db, jobs }: App) {
  const { id } = await db
    .selectFrom('jobs')
    .select('id')
    .where('kind', '=', 'prepare')
    .orderBy('id', 'desc')
    .executeTakeFirstOrThrow()
  return jobs.find(id)
}

describe('what an empty folder is filled with', () => {
  it('is done step by step, each with the jobs that it brings, and once only', async () => {
    const done: string[] = []
    const steps = [
      step('first', async ({ jobs }) => {
        await jobs.enqueue('sweep', 'all', 'Clearing')
        done.push('first')
      }),
      step('second', async ({ db }) => {
        const { state } = await db
          .selectFrom('jobs')
          .select('state')
          .where('kind', '=', 'sweep')
          .executeTakeFirstOrThrow()
        done.push(`second after ${state}`)
      }),
    ]
    const first = await open(steps)
    expect(await preparing(first)).toMatchObject({ title: 'Preparing' })
    await first.jobs.idle()
    expect(done).toEqual(['first', 'second after done'])
    expect(await preparing(first)).toMatchObject({ state: 'done', message: 'Everything is here now.' })
    await close()
    const again = await open(steps)
    await again.jobs.idle()
    expect(done).toHaveLength(2)
    expect((await again.jobs.list()).filter(({ kind }) => kind === 'prepare')).toHaveLength(1)
  })

  it('goes on with the step that it was stopped in, not with those before', async () => {
    const done: string[] = []
    let begun: () => void = () => {}
    const reached = new Promise<void>((resolve) => {
      begun = resolve
    })
    const quick = step('quick', async () => void done.push('quick'))
    const endless = step('slow', (_app, signal) => {
      begun()
      return new Promise((_resolve, reject) => signal.addEventListener('abort', () => reject(signal.reason)))
    })
    await open([quick, endless])
    await reached
    await close()
    const next = await open([
      quick,
      step('slow', async () => void done.push('slow')),
      step('last', async () => void done.push('last')),
    ])
    await next.jobs.idle()
    expect(done).toEqual(['quick', 'slow', 'last'])
    expect((await preparing(next))?.state).toBe('done')
  })

  it('tells which step it is at, and weighs the steps by how long they take', { tags: 'long' }, async () => {
    let letGo: () => void = () => {}
    const held = new Promise<void>((resolve) => {
      letGo = resolve
    })
    let reached: () => void = () => {}
    const isThere = new Promise<void>((resolve) => {
      reached = resolve
    })
    const opened = await open([
      step('long', async () => {}, { typicalS: 9 }),
      step('short', async () => {
        reached()
        await held
      }),
    ])
    await isThere
    while ((await preparing(opened))?.progressFraction === 0) await new Promise((resolve) => setTimeout(resolve, 20))
    const job = await preparing(opened)
    letGo()
    await opened.jobs.idle()
    expect(job).toMatchObject({ state: 'running', message: 'Step 2 of 2: doing short' })
    expect(job?.progressFraction).toBeCloseTo(0.9, 5)
  })

  it('stops at a step that fails, says which, and goes on there at the next start', async () => {
    const done: string[] = []
    const before = step('before', async () => void done.push('before'))
    const after = step('after', async () => void done.push('after'))
    const failing = step('middle', async () => {
      throw new Error('no such sound')
    })
    const first = await open([before, failing, after])
    await first.jobs.idle()
    const failed = await preparing(first)
    expect(failed?.state).toBe('failed')
    expect(failed?.message).toContain('doing middle')
    expect(failed?.message).not.toContain('no such sound')
    expect(await findSetting(first.db, 'prepared-steps')).toBe('["before"]')
    await close()
    const next = await open([before, step('middle', async () => void done.push('middle')), after])
    await next.jobs.idle()
    expect(done).toEqual(['before', 'middle', 'after'])
  })

  it('fails with a job of its own that fails, and not with one of somebody else', async () => {
    const unknown = step('download', async ({ jobs }) => void (await jobs.enqueue('download', '4711', 'Nothing')))
    const tolerant = await open([unknown])
    await tolerant.jobs.idle()
    expect((await preparing(tolerant))?.state).toBe('done')
    await close()
    const strict = await open([unknown, { ...unknown, id: 'again', kinds: ['download'] }])
    await strict.jobs.idle()
    expect((await preparing(strict))?.state).toBe('failed')
  })

  it('is left where it is when the application is started without it', { tags: 'long' }, async () => {
    await open([
      step(
        'slow',
        (_app, signal) =>
          new Promise((_resolve, reject) => signal.addEventListener('abort', () => reject(signal.reason))),
      ),
    ])
    await close()
    const without = await open([], '')
    await without.jobs.idle()
    expect(await preparing(without)).toMatchObject({
      state: 'failed',
      message: 'It goes on when the application is started as it was at first.',
    })
    await close()
    const done: string[] = []
    const withIt = await open([step('slow', async () => void done.push('slow'))])
    await withIt.jobs.idle()
    expect(done).toEqual(['slow'])
  })
})
