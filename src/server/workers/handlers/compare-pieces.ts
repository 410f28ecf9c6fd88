import { isPieceOf } from '../../../core/hearing'
import type { PieceTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
import { asTaskResult } from './task-result'

/** Whether one of two sounds is the other or a piece of it. */
export function comparePieces({ paths: [one, other] }: PieceTask): Promise<TaskResult<boolean>> {
  return asTaskResult(async () => {
    const [first, second] = [
      withErrorsSuppressed(() => loadedSound(one)),
      withErrorsSuppressed(() => loadedSound(other)),
    ]
    return first !== null && second !== null && isPieceOf(first, second)
  })
}
