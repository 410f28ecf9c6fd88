import { addsUp } from '../../../core/hearing'
import type { SumTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
import { asTaskResult } from './task-result'

/** Whether some sounds played together are another one; null where one of them cannot be loaded now. */
export function addUp({ whole, stems }: SumTask): Promise<TaskResult<boolean | null>> {
  return asTaskResult(async () => {
    const loaded = [whole, ...stems].map((path) => withErrorsSuppressed(() => loadedSound(path))?.samples)
    const [all, ...parts] = loaded.flatMap((samples) => (samples ? [samples] : []))
    return all !== undefined && parts.length === stems.length ? addsUp(all, parts) : null
  })
}
