import { setTimeout } from 'node:timers/promises'
import { pathToFileURL } from 'node:url'
import { z } from 'zod'
import { preparing as messages } from '../messages/server/preparing'
import type { App } from './context'
import { DomainError } from './domain-error'
import type { JobContext, JobKind } from './jobs/jobs'
import { findSetting, setSetting } from './settings'

/** One part of filling an empty data folder. Its `run` must be safe to do again where it broke off. */
export interface PreparingStep {
  readonly id: string
  /** What is being done, for people. */
  readonly words: string
  /** How long it takes beside the others, s. */
  readonly typicalS: number
  /** A job of these kinds that fails while the step is done fails it. */
  readonly kinds: readonly JobKind[]
  readonly run: (app: App, signal: AbortSignal) => Promise<void>
}

/** What an empty data folder is filled with, as a module tells that the starter names. */
export interface Preparation {
  readonly title: string
  readonly steps: readonly PreparingStep[]
}

/** It is looked this often whether the jobs of a step have ended, ms. */
const LOOK_EVERY_MS = 100

/** Queues what is still to be done of what the folder is to be filled with, if anything. */
export async function enqueuePreparing({ db, jobs }: Pick<App, 'db' | 'jobs'>, preparedBy?: string): Promise<void> {
  if (preparedBy === undefined) return
  const { title, steps } = await load(preparedBy)
  const done = await doneSteps(db)
  if (steps.some(({ id }) => !done.has(id))) await jobs.enqueue('prepare', 'all', title)
}

/**
 * Does the steps that were not done before, one after the other, each with all jobs that it brings; goes on where it broke off.
 *
 * @throws {DomainError} not-prepared, by the step that failed.
 */
export async function prepare(
  app: App,
  preparedBy: string | undefined,
  { signal, report }: JobContext,
): Promise<string> {
  if (preparedBy === undefined) throw new DomainError('not-prepared', messages.startAsBefore)
  const { steps } = await load(preparedBy)
  const done = await doneSteps(app.db)
  const wholeS = steps.reduce((sum, { typicalS }) => sum + typicalS, 0)
  let doneS = 0
  for (const [index, step] of steps.entries()) {
    if (!done.has(step.id)) {
      const tell = (fraction: number): void =>
        report((doneS + fraction * step.typicalS) / wholeS, messages.stepOf(index + 1, steps.length, step.words))
      tell(0)
      await doStep(app, step, { signal, tell })
      done.add(step.id)
      await setSetting(app.db, 'prepared-steps', JSON.stringify([...done]))
    }
    doneS += step.typicalS
  }
  return messages.everythingIsHere
}

/** Does one step and waits for all jobs, those that follow from its own too. */
async function doStep(
  app: App,
  step: PreparingStep,
  { signal, tell }: { signal: AbortSignal; tell: (fraction: number) => void },
): Promise<void> {
  const { since } = await app.db
    .selectFrom('jobs')
    .select((eb) => eb.fn.max('id').as('since'))
    .executeTakeFirstOrThrow()
  const fractions = new Map<number, number>()
  const follow = ({ id, kind, progressFraction }: { id: number; kind: JobKind; progressFraction: number }): void => {
    if (id <= since || !step.kinds.includes(kind)) return
    fractions.set(id, progressFraction)
    tell([...fractions.values()].reduce((sum, one) => sum + one, 0) / fractions.size)
  }
  app.jobs.on('job', follow)
  try {
    await step.run(app, signal)
    await settled(app, signal)
    const failed = await app.db
      .selectFrom('jobs')
      .select(['title', 'message'])
      .where('id', '>', since)
      .where('kind', 'in', step.kinds)
      .where('state', '=', 'failed')
      .executeTakeFirst()
    if (failed) throw new Error(`${failed.title}: ${failed.message}`)
  } catch (error) {
    signal.throwIfAborted()
    throw new DomainError('not-prepared', messages.stepFailed(step.words), { cause: error })
  } finally {
    app.jobs.off('job', follow)
  }
}

/** Resolves when no job but this one waits or runs. A step may ask for it between its parts. */
export async function settled({ db }: Pick<App, 'db'>, signal: AbortSignal): Promise<void> {
  for (;;) {
    const open = await db
      .selectFrom('jobs')
      .select('id')
      .where('state', 'in', ['queued', 'running'])
      .where('kind', '<>', 'prepare')
      .executeTakeFirst()
    if (!open) return
    await setTimeout(LOOK_EVERY_MS, undefined, { signal })
  }
}

async function load(file: string): Promise<Preparation> {
  const { preparation } = (await import(/* @vite-ignore */ pathToFileURL(file).href)) as { preparation: Preparation }
  return preparation
}

async function doneSteps(db: App['db']): Promise<Set<string>> {
  return new Set(z.array(z.string()).parse(JSON.parse((await findSetting(db, 'prepared-steps')) ?? '[]')))
}
