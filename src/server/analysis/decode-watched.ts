import { MessageChannel } from 'node:worker_threads'
import { HEARING_RATE_HZ } from '../../core/hearing'
import { MediaError } from '../media/decoder'
import { type Pool, runTask } from '../workers/pool'
import type { DecodedTrack, DecodeTask, FileInspection, InspectTask, VoiceTask } from '../workers/tasks'
import { endTrack, framesReady, type TrackMemory, trackMemory } from '../workers/track-memory'

/** A decoder that gives nothing for this long hangs, ms. */
const STALL_MS = 15_000
const LOOK_EVERY_MS = 500
/** What is decoded again after a hang ends this much before it, s: the same stretch must not hang once more. */
const BACK_OFF_S = 0.05

interface WatchOptions {
  readonly trackIndex: number
  readonly onProgress: (fraction: number) => void
  readonly signal?: AbortSignal
  /** For tests: what counts as a hang, ms. */
  readonly stallMs?: number
}

/** A decoded track, and where in it someone speaks, which is told later. */
export interface WatchedDecoding {
  readonly track: DecodedTrack
  readonly voices: Promise<Float32Array>
}

/**
 * Decodes a track and watches that it goes on. A decoder that hangs loses its thread; what came before is decoded once more, up to there,
 * and said to have stalled.
 *
 * @throws {MediaError} not-media when it hangs before it gave anything; what the decoder throws; AbortError.
 */
export async function decodeWatched(pool: Pool, path: string, options: WatchOptions): Promise<WatchedDecoding> {
  const first = await decodeOnce(pool, path, options, null)
  if (first.kind === 'done') return first
  const untilS = first.decodedS - BACK_OFF_S
  if (untilS <= 0)
    throw new MediaError(
      'not-media',
      'The file is damaged: reading it comes to no end, and nothing in it could be decoded.',
    )
  const second = await decodeOnce(pool, path, options, untilS)
  if (second.kind === 'done') return second
  throw new MediaError('not-media', 'The file is damaged: reading it comes to no end.')
}

type Outcome = ({ readonly kind: 'done' } & WatchedDecoding) | { readonly kind: 'hung'; readonly decodedS: number }

async function decodeOnce(
  pool: Pool,
  path: string,
  { trackIndex, onProgress, signal, stallMs = STALL_MS }: WatchOptions,
  untilS: number | null,
): Promise<Outcome> {
  const memory = trackMemory()
  const { port1, port2 } = new MessageChannel()
  const watch = watched(memory, port1, stallMs)
  port1.on('message', onProgress)
  const either = new AbortController()
  const stop = (): void => either.abort(signal?.reason)
  signal?.addEventListener('abort', stop, { once: true })
  watch.hung.then(stop, stop)
  const task: DecodeTask = { path, trackIndex, untilS, memory, port: port2 }
  const decoding = runTask<DecodedTrack>(pool, 'decodeTrack', task, {
    signal: either.signal,
    transferList: [port2 as never],
  })
  // It comes after the decoding in the queue, so what it waits for is always under way.
  const voices = runTask<Float32Array>(pool, 'hearVoices', { memory } satisfies VoiceTask, signal ? { signal } : {})
  // It is waited for at the end; until then another failure may come first.
  voices.catch(() => undefined)
  try {
    return { kind: 'done', track: await decoding, voices }
  } catch (error) {
    if (!watch.isHung() || signal?.aborted) throw error
    return { kind: 'hung', decodedS: framesReady(memory) / HEARING_RATE_HZ }
  } finally {
    watch.end()
    signal?.removeEventListener('abort', stop)
    port1.close()
    endTrack(memory)
  }
}

/** Tells when a decoder that has begun gives nothing for too long. */
function watched(memory: TrackMemory, port: MessageChannel['port1'], stallMs: number) {
  let isHung = false
  let timer: NodeJS.Timeout | null = null
  const hung = new Promise<void>((resolve) => {
    port.once('message', () => {
      let lastFrames = -1
      let lastMs = performance.now()
      timer = setInterval(() => {
        const frames = framesReady(memory)
        if (frames !== lastFrames) {
          lastFrames = frames
          lastMs = performance.now()
        } else if (performance.now() - lastMs > stallMs) {
          isHung = true
          resolve()
        }
      }, LOOK_EVERY_MS)
    })
  })
  return {
    hung,
    isHung: () => isHung,
    end: () => {
      if (timer) clearInterval(timer)
    },
  }
}

/** What a file holds; a file whose lists come to no end is refused. @throws {MediaError}. */
export async function inspectWatched(
  pool: Pool,
  path: string,
  signal: AbortSignal | null = null,
): Promise<FileInspection> {
  const either = new AbortController()
  const stop = (): void => either.abort(signal?.reason)
  signal?.addEventListener('abort', stop, { once: true })
  let late = false
  // Waiting for a free thread counts too, so this is generous.
  const timer = setTimeout(() => {
    late = true
    stop()
  }, INSPECT_MAX_MS)
  try {
    return await runTask<FileInspection>(pool, 'inspectFile', { path } satisfies InspectTask, { signal: either.signal })
  } catch (error) {
    if (!late) throw error
    throw new MediaError('not-media', 'The file is damaged: its list of tracks comes to no end.', { cause: error })
  } finally {
    clearTimeout(timer)
    signal?.removeEventListener('abort', stop)
  }
}

const INSPECT_MAX_MS = 120_000
