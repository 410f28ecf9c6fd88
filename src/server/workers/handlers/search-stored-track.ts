import { beyondHeardInStored, findInTracks } from '../../../core/hearing'
import type { TimeRange } from '../../../core/time-range'
import type { StoredFinds, StoredRestTask, StoredTrackTask, TaskResult } from '../tasks'
import { loadedOrReason, soundsOf } from './features-files'
import { asTaskResult } from './task-result'

/** Looks for one sound, with full sensitivity, in one track that was stored. */
export function searchStoredTrack({ path, bytes }: StoredTrackTask): Promise<TaskResult<StoredFinds>> {
  return asTaskResult(async () => {
    const { sound, reason } = loadedOrReason({ path })
    if (!sound) return { finds: [], reason }
    const [found] = findInTracks(sound, [{ key: 0, bytes }])
    return { finds: found?.detections ?? [], reason }
  })
}

/** Stretches of heard sounds in which more is there, in one track that was stored. */
export function findBeyondHeard({ bytes, heard, paths, speech }: StoredRestTask): Promise<TaskResult<TimeRange[]>> {
  return asTaskResult(async () => beyondHeardInStored(bytes, heard, speech, soundsOf(paths)))
}
