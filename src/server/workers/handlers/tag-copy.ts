import type { TagTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** Writes rights into a copy that is still on its way into the store. Answers whether it took them. */
export function tagCopy({ path, ending, rights }: TagTask): Promise<TaskResult<boolean>> {
  // Loaded when first needed: most threads never write tags.
  return asTaskResult(async () => (await import('../tag-file')).tagFile(path, ending, rights))
}
