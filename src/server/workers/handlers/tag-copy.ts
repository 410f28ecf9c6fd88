import { PulseTeller } from '../pulse'
import type { TagTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** Writes rights into a copy that is still on its way into the store. Answers whether it took them. */
export function tagCopy({ path, ending, rights, pulse }: TagTask): Promise<TaskResult<boolean>> {
  // Loaded when first needed: most threads never write tags.
  return asTaskResult(async () => {
    new PulseTeller(pulse).computing()
    return (await import('../tag-file')).tagFile(path, ending, rights)
  })
}
