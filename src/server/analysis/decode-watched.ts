import { MessageChannel } from 'node:worker_threads'
import { HEARING_RATE_HZ } from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import { MediaError } from '../media/decoder'
import { type Pool, runTask } from '../workers/pool'
import type { DecodedTrack, DecodeTask, FileInspection, InspectTask, VoiceTask } from '../workers/tasks'
import { endTrack, framesReady, trackMemory } from '../workers/track-memory'
import { runWatchedTask, underWatch } from '../workers/watched-task'

/** What is decoded again after a hang ends this much before it, s: the same stretch must not hang once more. */
const BACK_OFF_S = 0.05

interface WatchOptions {
  readonly trackIndex: number
  readonly onProgress: (fraction: number) => void
  readonly signal?: AbortSignal
  /** Whether the peaks at all zooms are wanted. */
  readonly withPeaks?: boolean
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
  if (untilS <= 0) throw new MediaError('not-media', messages.fileDamagedReadingComesNo)
  const second = await decodeOnce(pool, path, options, untilS)
  if (second.kind === 'done') return second
  throw new MediaError('not-media', messages.fileDamagedReadingComesNoEnd)
}

type Outcome = ({ readonly kind: 'done' } & WatchedDecoding) | { readonly kind: 'hung'; readonly decodedS: number }

async function decodeOnce(
  pool: Pool,
  path: string,
  { trackIndex, onProgress, signal, stallMs, withPeaks = false }: WatchOptions,
  untilS: number | null,
): Promise<Outcome> {
  const memory = trackMemory()
  const { port1, port2 } = new MessageChannel()
  let voices: Promise<Float32Array> | null = null
  // It waits for what is decoded, in a thread: only once the decoding has a thread itself, or all threads could wait for decodings that get none.
  const hearVoices = (): Promise<Float32Array> => {
    voices ??= runTask<Float32Array>(pool, 'hearVoices', { memory } satisfies VoiceTask, signal ? { signal } : {})
    // It is waited for at the end; until then another failure may come first.
    voices.catch(() => undefined)
    return voices
  }
  port1.on('message', (fraction: number) => {
    void hearVoices()
    onProgress(fraction)
  })
  const limits = { ...(signal ? { signal } : {}), ...(stallMs === undefined ? {} : { stallMs }) }
  try {
    const outcome = await underWatch(limits, async (watched) => {
      const task: DecodeTask = { path, trackIndex, untilS, memory, port: port2, pulse: watched.pulse, withPeaks }
      const decoding = runTask<DecodedTrack>(pool, 'decodeTrack', task, {
        signal: watched.signal,
        transferList: [port2],
      })
      const track = await decoding
      return { track, voices: hearVoices() }
    })
    if (outcome.kind === 'done') return { kind: 'done', ...outcome.value }
    return { kind: 'hung', decodedS: framesReady(memory) / HEARING_RATE_HZ }
  } finally {
    port1.close()
    endTrack(memory)
  }
}

/** What a file holds; a file whose lists come to no end is refused. @throws {MediaError}; AbortError. */
export function inspectWatched(pool: Pool, path: string, signal: AbortSignal | null = null): Promise<FileInspection> {
  return runWatchedTask<FileInspection>(pool, 'inspectFile', { path } satisfies InspectTask, { signal })
}
