import { hashFile } from '../../files/hash-file'
import type { HashTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** SHA-256 of a file, read whole. */
export function hashStoredFile({ path }: HashTask): Promise<TaskResult<string>> {
  return asTaskResult(() => hashFile(path))
}
