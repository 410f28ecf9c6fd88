import fs from 'node:fs'
import { decodedMarks, type RecordingRelations, recordingRelations } from '../../../core/hearing'
import type { GroupTask, TaskResult } from '../tasks'
import { loadedSound, withErrorsSuppressed } from './features-files'
import { asTaskResult } from './task-result'

/** Looks which of many sounds are the same recording, and which lie in others. */
export function groupSounds({ paths, known }: GroupTask): Promise<TaskResult<RecordingRelations>> {
  return asTaskResult(async () =>
    recordingRelations(
      paths.map((path) => withErrorsSuppressed(() => decodedMarks(fs.readFileSync(path)))),
      (index) => withErrorsSuppressed(() => loadedSound(paths[index] as string)),
      known,
    ),
  )
}
