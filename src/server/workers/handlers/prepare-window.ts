import { preparedWindow } from '../../../core/hearing'
import type { PrepareTask, TaskResult } from '../tasks'
import { trackFrom, windowFrom } from './shared-memory'
import { sharedKernel } from './shared-searcher'
import { asTaskResult } from './task-result'

/** Whitens a stretch of a track and transforms its blocks, into shared memory. */
export function prepareWindow({ track, window }: PrepareTask): Promise<TaskResult<null>> {
  return asTaskResult(async () => {
    preparedWindow(trackFrom(track), window, sharedKernel(), windowFrom(window))
    return null
  })
}
