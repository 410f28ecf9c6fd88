import { resampled } from '../../../core/audio'
import { type FittedLength, fitLength } from '../../../core/lengths'
import type { LengthTask, TaskResult } from '../tasks'
import { mixedDown } from '../track-collector'
import { decodeRange } from './decoded-range'
import { asTaskResult } from './task-result'

/** Seams are looked for at this rate: both sides are in phase to 0.06 ms. */
const LOOK_RATE_HZ = 16_000

/** How a sound is brought to a length; null where there is no room for any jump. */
export function findLength({ path, pulse, ...request }: LengthTask): Promise<TaskResult<FittedLength | null>> {
  return asTaskResult(async () => {
    const { channels, rateHz } = await decodeRange(path, { startS: 0, endS: request.toS }, pulse)
    const samples = resampled(mixedDown(channels), { fromHz: rateHz, toHz: LOOK_RATE_HZ })
    return fitLength({ samples, sampleRateHz: LOOK_RATE_HZ, ...request })
  })
}
