import { type Detection, finalDetections } from '../../../core/hearing'
import type { OverlapTask, TaskResult } from '../tasks'
import { loadedSound } from './features-files'
import { asTaskResult } from './task-result'

/** Resolves the overlapping finds of all searches of one track. */
export function resolveFinds(task: OverlapTask): Promise<TaskResult<Detection[]>> {
  return asTaskResult(async () => {
    const { raw, paths, shortlist, ...settings } = task
    const involved = new Set(raw.map(({ soundIndex }) => soundIndex))
    const sounds = paths.map((path, index) => (involved.has(index) ? loadedSound(path) : null))
    return finalDetections(raw, sounds, { ...settings, soundCount: paths.length, shortlist: new Set(shortlist) })
  })
}
