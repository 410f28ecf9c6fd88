import { beyondHeardInStored, compactTrack, expandedTrack } from '../../../core/hearing'
import type { TimeRange } from '../../../core/time-range'
import type { CompactTask, ExpandTask, StoredRestTask, TaskResult } from '../tasks'
import { soundsOf } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** The compact form of a track. */
export function storeTrack({ track }: CompactTask): Promise<TaskResult<Uint8Array>> {
  return asTaskResult(async () => compactTrack(trackFrom(track)))
}

/** Reads a track that was stored, into shared memory. */
export function expandTrack({ bytes, mid }: ExpandTask): Promise<TaskResult<null>> {
  return asTaskResult(async () => {
    expandedTrack(bytes, new Int16Array(mid))
    return null
  })
}

/** Stretches of heard sounds in which more is there, in one track that was stored. */
export function findBeyondHeard({ bytes, heard, paths, speech }: StoredRestTask): Promise<TaskResult<TimeRange[]>> {
  return asTaskResult(async () => beyondHeardInStored(bytes, heard, speech, soundsOf(paths)))
}
