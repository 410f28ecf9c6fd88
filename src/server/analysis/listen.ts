import type { TrackBreakdown } from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import { type Pool, runTask } from '../workers/pool'
import type { BreakdownTask, CompactTask } from '../workers/tasks'
import { decodeWatched } from './decode-watched'
import { type ListeningResult, type ListenOptions, taskOptions } from './listening'
import { measureSensitivities } from './measure-sensitivities'
import { searchTrack } from './search-track'
import { decoysOf, type ReferenceSet } from './stages'
import { restMemory } from './window-memory'

/** Share of the work that decoding is, for progress. */
const DECODE_SHARE = 0.2

/**
 * Listens to a media file for sounds: the shortlist first, then the rest, in stretches of six minutes.
 *
 * @throws {MediaError} when the file gives no sound; AbortError.
 */
export async function listen(
  pool: Pool,
  mediaPath: string,
  reference: ReferenceSet,
  options: ListenOptions = {},
): Promise<ListeningResult> {
  const { trackIndex = 0, keep = false, onHeard, onProgress, ...searching } = options
  const startMs = performance.now()
  const { track, voices } = await decodeWatched(pool, mediaPath, {
    trackIndex,
    onProgress: (fraction) => onProgress?.(fraction * DECODE_SHARE, messages.decodingTheSoundTrack),
    ...taskOptions(options),
  })
  const decodeS = (performance.now() - startMs) / 1000
  const searchMs = performance.now()
  const { detections, decoyFinds, unreadable, stages, opposition, memory } = await searchTrack(pool, track, reference, {
    ...searching,
    onProgress: (fraction, doing) => onProgress?.(DECODE_SHARE + (1 - DECODE_SHARE) * fraction, doing),
    ...(onHeard ? { onHeard: (heard) => onHeard(heard, track) } : {}),
  })
  onProgress?.(1, messages.takingStockOfTheTrack)
  const rest = restMemory(memory, track.shared)
  const about = { track: track.shared, detections, paths: reference.featurePaths, rest }
  const [breakdown, compact, sensitivity] = await Promise.all([
    voices.then((speech) =>
      runTask<TrackBreakdown>(
        pool,
        'breakDownTrack',
        { ...about, speech } satisfies BreakdownTask,
        taskOptions(options),
      ),
    ),
    keep
      ? runTask<Uint8Array>(pool, 'storeTrack', { track: track.shared } satisfies CompactTask, taskOptions(options))
      : null,
    measureSensitivities(pool, track, reference, detections, taskOptions(options)),
  ])
  return {
    track: { ...track, ...opposition },
    detections,
    decoyFinds,
    unreadable,
    stages,
    decoyCount: decoysOf(reference).length,
    breakdown,
    compact,
    sensitivity,
    timing: { decodeS, searchS: (performance.now() - searchMs) / 1000 },
  }
}
