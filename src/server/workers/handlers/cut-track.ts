import { writeWav } from '../../../core/formats/wav'
import { readSamples } from '../../media/read-samples'
import type { CutTask, SamplesTask, TaskResult } from '../tasks'
import { mixedDown } from '../track-collector'
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

/** Samples of a range of a sound track, mixed to one channel, with their rate. */
export function cutSamples({
  path,
  range,
  pulse,
}: SamplesTask): Promise<TaskResult<{ samples: Float32Array; rateHz: number }>> {
  return asTaskResult(async () => {
    // Where it can be gone to directly, what comes before it is not decoded.
    const direct = await readSamples(path, range)
    if (direct) return direct
    const { channels, rateHz } = await decodeRange(path, range, pulse)
    return { samples: mixedDown(channels), rateHz }
  })
}
