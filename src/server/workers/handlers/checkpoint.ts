import { checkpoint } from '../../database/checkpoint'
import type { CheckpointTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** Moves what was written from the log into the database. @returns Pages moved. */
export function checkpointDatabase({ dataDir }: CheckpointTask): Promise<TaskResult<number>> {
  return asTaskResult(async () => checkpoint(dataDir).moved)
}
