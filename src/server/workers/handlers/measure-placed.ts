import { MIX_RATE_HZ, memorySource, placedLoudness } from '../../../core/mix'
import type { LoudnessTask, TaskResult } from '../tasks'
import { decodeRange } from './decoded-range'
import { asTaskResult } from './task-result'

/** How loud a placed sound is over the part that is heard, LUFS; null for silence. */
export function measurePlaced({ path, placement, pulse }: LoudnessTask): Promise<TaskResult<number | null>> {
  return asTaskResult(async () => {
    const endS = Math.max(placement.toS, ...(placement.assembly ?? []).map(({ toS }) => toS))
    const { channels, rateHz } = await decodeRange(path, { startS: 0, endS }, pulse)
    return placedLoudness(placement, memorySource(channels, rateHz), MIX_RATE_HZ)
  })
}
