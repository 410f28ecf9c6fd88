import fs from 'node:fs'
import { decodedMarks, isPieceOf, recordingGroups } from '../../../core/hearing'
import type { GroupTask, PieceTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
import { asTaskResult } from './task-result'

/** Looks which of many sounds are the same recording. */
export function groupSounds({ paths }: GroupTask): Promise<TaskResult<number[][]>> {
  return asTaskResult(async () =>
    recordingGroups(
      paths.map((path) => withErrorsSuppressed(() => decodedMarks(fs.readFileSync(path)))),
      (index) => withErrorsSuppressed(() => loadedSound(paths[index] as string)),
    ),
  )
}

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
