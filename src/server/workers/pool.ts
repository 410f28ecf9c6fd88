import os from 'node:os'
import path from 'node:path'
import type { MessagePort } from 'node:worker_threads'
import Piscina from 'piscina'
import { MEDIA_ERROR_CODES, MediaError } from '../media/decoder'
import { tooLarge } from './pulse'
import type { TimedResult } from './tasks'

export type Pool = Piscina

/** Bytes of decoded sound in flight are large: more threads than this help little and cost memory. */
const MAX_THREADS = 8
/** Objects that one thread may hold, MB: decoded sound lies outside of it. */
const MAX_HEAP_MB = 1024
/** Of these, those that were just made: a thread holds few, and takes what it may. */
const YOUNG_HEAP_MB = 16

/** The pool of worker threads. @param nodeDir Folder of the built worker file. */
export function createPool(nodeDir: string, workers: number = os.availableParallelism()): Pool {
  const pool = new Piscina({
    filename: path.join(nodeDir, 'worker.mjs'),
    minThreads: 1,
    maxThreads: Math.max(1, Math.min(MAX_THREADS, workers)),
    idleTimeout: 30_000,
    // What finds no free thread keeps its place; else it would go behind all that came later, again and again.
    stricterFIFO: true,
    resourceLimits: { maxOldGenerationSizeMb: MAX_HEAP_MB, maxYoungGenerationSizeMb: YOUNG_HEAP_MB },
  })
  // A thread that is being stopped may have sent its answer already. Nobody waits for it any more; without a listener it
  // would end the process. What fails in a task that is waited for is told to the one who waits.
  pool.on('error', (error: Error) => {
    if (error.message.startsWith('Unexpected message from Worker')) return
    if (process.env.THUD_LOG !== 'quiet') console.error(error)
  })
  startAgain(pool)
  return pool
}

/** Waits before a thread is started again that could not be, ms: the first, and the longest. */
const START_AGAIN_MS = 250
const START_AGAIN_MAX_MS = 30_000

/**
 * A thread that cannot be started (its file is being replaced by a new version, or there is no room for it) leaves what waits for it waiting for
 * ever: none is started but for new work. So long as something waits and there is no thread, it is tried again, after growing waits.
 */
function startAgain(pool: Pool): void {
  let waitMs = START_AGAIN_MS
  let timer: NodeJS.Timeout | undefined
  const begin = (): void => {
    timer = undefined
    if (pool.queueSize === 0 || pool.threads.length > 0) return
    waitMs = Math.min(2 * waitMs, START_AGAIN_MAX_MS)
    pool.run(null, { name: 'nothing' }).then(
      () => {
        waitMs = START_AGAIN_MS
      },
      // The pool was closed meanwhile.
      () => undefined,
    )
  }
  pool.on('error', () => {
    if (timer) return
    timer = setTimeout(begin, waitMs)
    timer.unref()
  })
}

/** Threads for long work, and one for what someone waits for: long work cannot keep it busy. */
export function createPools(nodeDir: string): { readonly pool: Pool; readonly interactivePool: Pool } {
  return { pool: createPool(nodeDir), interactivePool: createPool(nodeDir, 1) }
}

/** A task that failed in a worker with something other than a media error. */
export class TaskError extends Error {
  override readonly name = 'TaskError'
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
  }
}

const spentS = new WeakMap<Pool, Map<string, number>>()

/** How long the threads of a pool were at each kind of task so far, s. Where a task waits for another one, that counts too. */
export function secondsByTask(pool: Pool): ReadonlyMap<string, number> {
  return new Map(spentS.get(pool))
}

/**
 * Runs one task in the pool.
 *
 * @throws {MediaError} {TaskError} as the worker reports; AbortError when the signal fires (the thread is stopped).
 */
export async function runTask<T>(
  pool: Pool,
  name: string,
  task: object,
  options: { readonly signal?: AbortSignal; readonly transferList?: readonly MessagePort[] } = {},
): Promise<T> {
  options.signal?.throwIfAborted()
  const result = await pool
    .run(task, {
      name,
      signal: options.signal ?? null,
      ...(options.transferList ? { transferList: options.transferList as never } : {}),
    })
    .then(
      (answer) => answer as TimedResult<T>,
      (error: unknown) => {
        throw isOutOfMemory(error) ? tooLarge(error) : error
      },
    )
  const spent = spentS.get(pool) ?? new Map<string, number>()
  spentS.set(pool, spent.set(name, (spent.get(name) ?? 0) + result.tookMs / 1000))
  if (result.ok) return result.value
  const mediaCode = MEDIA_ERROR_CODES.find((code) => code === result.code)
  if (mediaCode) throw new MediaError(mediaCode, result.message)
  throw new TaskError(result.code, result.message)
}

function isOutOfMemory(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY'
}
