import fs from 'node:fs'
import { decodedMarks, recordingGroups } from '../../../core/hearing'
import type { GroupTask, TaskResult } from '../tasks'
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
