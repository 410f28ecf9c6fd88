import type { StageFacts } from '../../core/clearance'
import { compactFrames, type Detection, HEARING_RATE_HZ } from '../../core/hearing'
import { type Pool, runTask } from '../workers/pool'
import type { ExpandTask, SearchResult, Sensitivity } from '../workers/tasks'
import { type SearchOptions, taskOptions } from './listening'
import { measureSensitivities } from './measure-sensitivities'
import { type Answer, searchTrack } from './search-track'
import type { ReferenceSet, SearchedTrack } from './stages'

/** What a stored track came to when it was searched for more sounds. */
export interface StoredListening {
  readonly detections: readonly Detection[]
  readonly answers: readonly Answer[]
  readonly unreadable: SearchResult['unreadable']
  readonly stages: readonly StageFacts[]
  readonly sensitivity: readonly Sensitivity[]
}

/**
 * A track that was stored, as it is searched: its middle alone.
 *
 * @throws {CompactError} compact-damaged, compact-outdated; AbortError.
 */
export async function expandStored(
  pool: Pool,
  bytes: Uint8Array,
  options: Pick<SearchOptions, 'signal'> = {},
): Promise<SearchedTrack> {
  const frames = compactFrames(bytes)
  const mid = new SharedArrayBuffer(2 * frames)
  await runTask<null>(pool, 'expandTrack', { bytes, mid } satisfies ExpandTask, taskOptions(options))
  return { shared: { mid, side: null, frames }, durationS: frames / HEARING_RATE_HZ }
}

/** Searches it for more sounds, the way a check does. @throws {Error} AbortError. */
export async function listenToStored(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  options: SearchOptions = {},
): Promise<StoredListening> {
  const { detections, answers, unreadable, stages } = await searchTrack(pool, track, reference, options)
  const sensitivity = await measureSensitivities(pool, track, reference, detections, options)
  return { detections, answers, unreadable, stages, sensitivity }
}
