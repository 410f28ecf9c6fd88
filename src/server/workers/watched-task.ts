import type { MessagePort } from 'node:worker_threads'
import { workers as messages } from '../../messages/server/workers'
import { MediaError } from '../media/decoder'
import { type Pool, runTask } from './pool'
import { newPulse, type Pulse, pulseState, STAGE } from './pulse'

/** A decoder that has begun and gives nothing for this long hangs, ms. */
const STALL_MS = 10_000
/** A decoder may take this long, and besides as long as what it has decoded lasts, ms. */
const BASE_BUDGET_MS = 60_000
/** What is computed from decoded sound may take this long, ms: a sound has ten minutes at most. */
const COMPUTE_MAX_MS = 300_000
const LOOK_EVERY_MS = 250

/** Limits of a watched task. */
export interface WatchLimits {
  readonly stallMs?: number
  readonly baseBudgetMs?: number
}

/** What a look at a decoder sees. */
interface Progress {
  readonly stage: number
  readonly decodedMs: number
}

/**
 * Watches something that decodes, and calls `onHung` once when it gives nothing for too long or takes longer than its budget.
 *
 * @param progress Stage and milliseconds decoded so far. The wait for a free thread does not count.
 * @returns Ends the watch.
 */
function watchProgress(
  progress: () => Progress,
  onHung: () => void,
  { stallMs = STALL_MS, baseBudgetMs = BASE_BUDGET_MS }: WatchLimits = {},
): () => void {
  let stage: number = STAGE.waiting
  let decodedMs = -1
  let stageFromMs = 0
  let movedMs = 0
  const timer = setInterval(() => {
    const seen = progress()
    const nowMs = performance.now()
    if (seen.stage !== stage) stageFromMs = movedMs = nowMs
    else if (seen.decodedMs !== decodedMs) movedMs = nowMs
    ;({ stage, decodedMs } = seen)
    const tookMs = nowMs - stageFromMs
    const isHung =
      stage === STAGE.reading
        ? nowMs - movedMs > stallMs || tookMs > baseBudgetMs + decodedMs
        : stage === STAGE.computing && tookMs > COMPUTE_MAX_MS
    if (!isHung) return
    clearInterval(timer)
    onHung()
  }, LOOK_EVERY_MS)
  return () => clearInterval(timer)
}

/** How something under watch came out. */
export type WatchOutcome<T> =
  | { readonly kind: 'done'; readonly value: T }
  | { readonly kind: 'hung'; readonly cause: unknown }

/**
 * Runs something that reads a media file, and ends it when it hangs or takes longer than its budget.
 *
 * @param run Is given the pulse over which it tells how far it is, and a signal that fires when it hangs or `signal` does.
 * @throws What it throws of itself; AbortError when `signal` fires.
 */
export async function underWatch<T>(
  { signal, ...limits }: WatchLimits & { readonly signal?: AbortSignal | null },
  run: (watched: { readonly pulse: Pulse; readonly signal: AbortSignal }) => Promise<T>,
): Promise<WatchOutcome<T>> {
  const pulse = newPulse()
  const either = new AbortController()
  const stop = (): void => either.abort(signal?.reason)
  signal?.addEventListener('abort', stop, { once: true })
  if (signal?.aborted) stop()
  let isHung = false
  const endWatch = watchProgress(
    () => pulseState(pulse),
    () => {
      isHung = true
      stop()
    },
    limits,
  )
  try {
    return { kind: 'done', value: await run({ pulse, signal: either.signal }) }
  } catch (cause) {
    if (!isHung || signal?.aborted) throw cause
    return { kind: 'hung', cause }
  } finally {
    endWatch()
    signal?.removeEventListener('abort', stop)
  }
}

/**
 * Runs a task that reads a media file from outside. One that hangs, or takes longer than its budget, loses its thread.
 *
 * @param task Is given a `pulse`, over which it tells how far it is.
 * @throws {MediaError} not-media when it hangs; what the task throws; AbortError when the signal fires.
 */
export async function runWatchedTask<T>(
  pool: Pool,
  name: string,
  task: object,
  options: WatchLimits & { readonly signal?: AbortSignal | null; readonly transferList?: readonly MessagePort[] } = {},
): Promise<T> {
  const { transferList } = options
  const outcome = await underWatch(options, ({ pulse, signal }) =>
    runTask<T>(pool, name, { ...task, pulse }, { signal, ...(transferList ? { transferList } : {}) }),
  )
  if (outcome.kind === 'done') return outcome.value
  throw new MediaError('not-media', messages.fileDamagedReadingComesNo, { cause: outcome.cause })
}
