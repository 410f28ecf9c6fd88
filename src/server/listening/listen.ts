import { MessageChannel } from 'node:worker_threads'
import { type Detection, type RawDetection, spectraLength } from '../../core/hearing'
import { type Pool, runTask } from '../workers/pool'
import type { DecodedTrack, PrepareTask, SearchTask, SettleTask } from '../workers/tasks'

/** What listening to one file gave. */
export interface ListeningResult {
  readonly track: DecodedTrack
  readonly detections: readonly Detection[]
  readonly timing: { readonly decodeS: number; readonly searchS: number }
}

export interface ListenOptions {
  readonly signal?: AbortSignal
  /** Called with a fraction of the whole and what is being done. */
  readonly onProgress?: (fraction: number, doing: string) => void
}

/** Share of the work that decoding is, for progress. */
const DECODE_SHARE = 0.25
const PREPARE_SHARE = 0.05
/** Sounds searched in one task: large enough to share transforms, small enough to spread and to show progress. */
const SOUNDS_A_TASK = 6

/**
 * Listens to a media file for sounds.
 *
 * @param featurePaths Feature file of each sound; detections carry the index into this list.
 * @throws {MediaError} when the file gives no sound; AbortError.
 */
export async function listen(
  pool: Pool,
  mediaPath: string,
  featurePaths: readonly string[],
  options: ListenOptions = {},
): Promise<ListeningResult> {
  const startMs = performance.now()
  const track = await decoded(pool, mediaPath, options)
  const decodeS = (performance.now() - startMs) / 1000
  const searchMs = performance.now()
  const shared = await prepared(pool, track, options)
  const raw = await searched(pool, shared, featurePaths, options)
  const settle: SettleTask = { raw, paths: featurePaths, durationS: track.durationS }
  const detections = await runTask<Detection[]>(pool, 'settleFinds', settle, taskOptions(options))
  return { track, detections, timing: { decodeS, searchS: (performance.now() - searchMs) / 1000 } }
}

async function decoded(pool: Pool, path: string, options: ListenOptions): Promise<DecodedTrack> {
  const { port1, port2 } = new MessageChannel()
  port1.on('message', (fraction: number) => options.onProgress?.(fraction * DECODE_SHARE, 'Decoding the sound track'))
  try {
    return await runTask<DecodedTrack>(
      pool,
      'decodeTrack',
      { path, port: port2 },
      {
        ...taskOptions(options),
        transferList: [port2 as never],
      },
    )
  } finally {
    port1.close()
  }
}

async function prepared(pool: Pool, track: DecodedTrack, options: ListenOptions): Promise<PrepareTask> {
  options.onProgress?.(DECODE_SHARE, 'Making the track ready')
  const bytes = 4 * spectraLength(track.samples.byteLength / 4)
  const shared: PrepareTask = {
    samples: track.samples,
    spectraRe: new SharedArrayBuffer(bytes),
    spectraIm: new SharedArrayBuffer(bytes),
  }
  await runTask<null>(pool, 'prepareTrack', shared, taskOptions(options))
  return shared
}

async function searched(
  pool: Pool,
  shared: PrepareTask,
  featurePaths: readonly string[],
  options: ListenOptions,
): Promise<RawDetection[]> {
  const sounds = featurePaths.map((path, index) => ({ path, index }))
  const tasks: SearchTask[] = []
  for (let i = 0; i < sounds.length; i += SOUNDS_A_TASK)
    tasks.push({ ...shared, sounds: sounds.slice(i, i + SOUNDS_A_TASK) })
  const from = DECODE_SHARE + PREPARE_SHARE
  let done = 0
  const report = (): void =>
    options.onProgress?.(
      from + (1 - from) * (done / Math.max(1, tasks.length)),
      `Listening for ${sounds.length} sounds`,
    )
  report()
  const results = await Promise.all(
    tasks.map(async (task) => {
      const found = await runTask<RawDetection[]>(pool, 'searchSounds', task, taskOptions(options))
      done++
      report()
      return found
    }),
  )
  return results.flat()
}

function taskOptions({ signal }: ListenOptions): { signal?: AbortSignal } {
  return signal ? { signal } : {}
}
