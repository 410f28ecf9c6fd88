import { type Detection, findInTracks } from '../../../core/hearing'
import type { StoredTrackTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
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
