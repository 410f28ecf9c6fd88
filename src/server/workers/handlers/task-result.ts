import type { TaskResult } from '../tasks'

/** The outcome of a task as it can be sent to another thread. */
export async function asTaskResult<T>(work: () => Promise<T>): Promise<TaskResult<T>> {
  try {
    return { ok: true, value: await work() }
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : 'failed'
    return { ok: false, code, message: error instanceof Error ? error.message : String(error) }
  }
}
