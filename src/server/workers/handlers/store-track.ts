import { compactTrack } from '../../../core/hearing'
import type { CompactTask, TaskResult } from '../tasks'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** The compact form of a track. */
export function storeTrack({ track }: CompactTask): Promise<TaskResult<Uint8Array>> {
  return asTaskResult(async () => compactTrack(trackFrom(track)))
}
