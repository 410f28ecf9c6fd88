import { bandLevels, CellTransform, HEARING_RATE_HZ, hearableFromDb, soundKind } from '../../../core/hearing'
import type { Sensitivity, SensitivityTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** From which level each of some sounds would have been heard, and what it is to hearing. */
export function measureSensitivity({ track, sounds, threshold }: SensitivityTask): Promise<TaskResult<Sensitivity[]>> {
  return asTaskResult(async () => {
    const cells = new CellTransform()
    const levels = bandLevels(trackFrom(track), cells)
    return sounds.map(({ index, path }) => {
      const sound = withErrorsSuppressed(() => loadedSound(path))
      return {
        index,
        fromDb: sound && hearableFromDb(sound, levels, threshold, cells),
        kind: sound && soundKind(sound.samples, HEARING_RATE_HZ),
      }
    })
  })
}
