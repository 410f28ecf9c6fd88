import { beyondHeardInStored, type Detection, findInTracks } from '../../../core/hearing'
import type { TimeRange } from '../../../core/time-range'
import type { StoredRestTask, StoredTrackTask, TaskResult } from '../tasks'
import { loadedSound, soundsOf, withErrorsSuppressed } from './features-files'
import { asTaskResult } from './task-result'

/** Looks for one sound, with full sensitivity, in one track that was stored. Null when the sound's features cannot be read. */
export function searchStoredTrack({ path, bytes }: StoredTrackTask): Promise<TaskResult<readonly Detection[] | null>> {
  return asTaskResult(async () => {
    const sound = withErrorsSuppressed(() => loadedSound(path))
    if (!sound) return null
    const [found] = findInTracks(sound, [{ key: 0, bytes }])
    return found?.detections ?? []
  })
}

/** Stretches of heard sounds in which more is there, in one track that was stored. */
export function findBeyondHeard({ bytes, heard, paths, speech }: StoredRestTask): Promise<TaskResult<TimeRange[]>> {
  return asTaskResult(async () => beyondHeardInStored(bytes, heard, speech, soundsOf(paths)))
}
