import { type Detection, finalDetections } from '../../../core/hearing'
import type { OverlapTask, TaskResult } from '../tasks'
import { loadedSound, recentSounds } from './features-files'
import { asTaskResult } from './task-result'

/** Resolves the overlapping finds of all searches of one track. */
export function resolveFinds(task: OverlapTask): Promise<TaskResult<Detection[]>> {
  return asTaskResult(async () => {
    const { raw, paths, shortlist, counts, ...settings } = task
    return finalDetections(raw, recentSounds(paths, loadedSound), {
      ...settings,
      soundCount: counts.shortlist + counts.rest,
      shortlist: new Set(shortlist),
      shortlistCount: counts.shortlist,
    })
  })
}
