import { writeWav } from '../../../core/formats/wav'
import type { CutTask, TaskResult } from '../tasks'
import { decodeRange } from './decoded-range'
import { writeAtomically } from './features-files'
import { asTaskResult } from './task-result'

/** Writes a range of a sound track as WAV of 24 bits at the track's own rate. */
export function cutTrack({ path, into, range, pulse }: CutTask): Promise<TaskResult<boolean>> {
  return asTaskResult(async () => {
    const { channels, rateHz } = await decodeRange(path, range, pulse)
    writeAtomically(into, writeWav({ sampleRateHz: rateHz, channels }, { bits: 24 }))
    return true
  })
}
