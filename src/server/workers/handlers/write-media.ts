import * as media from '../../media/write-media'
import type { FlacTask, TaskResult, VideoTask } from '../tasks'
import { asTaskResult } from './task-result'

/** Writes a file of a mix again as FLAC. */
export function writeFlac({ wavPath, into }: FlacTask): Promise<TaskResult<boolean>> {
  return asTaskResult(async () => {
    await media.writeFlac(wavPath, into)
    return true
  })
}

/** Writes the picture of a cut with a mix as its sound track. @returns Ending of the file. */
export function writeVideo({ cutPath, wavPath, into }: VideoTask): Promise<TaskResult<string>> {
  return asTaskResult(() => media.writeVideo(cutPath, wavPath, into))
}
