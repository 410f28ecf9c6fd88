import { canLoop } from '../../../core/audio'
import { likenessOf } from '../../../core/likeness'
import type { DescribeTask, SoundDescription, TaskResult } from '../tasks'
import { mixedDown } from '../track-collector'
import { decodeRange } from './decoded-range'
import { asTaskResult } from './task-result'

/** Longest sound of a library that is analysed, s. */
export const MAX_SOUND_S = 600

/** How a file, or a range of it, sounds. Of a long file only the range is held in memory. */
export function describeSound({ path, range, pulse }: DescribeTask): Promise<TaskResult<SoundDescription>> {
  return asTaskResult(async () => {
    const { channels, rateHz } = await decodeRange(path, range ?? { startS: 0, endS: MAX_SOUND_S }, pulse)
    return describedAs(mixedDown(channels), rateHz, channels.length)
  })
}

/** How decoded sound sounds. */
export function describedAs(mono: Float32Array, rateHz: number, channels: number): SoundDescription {
  return {
    channels,
    loops: canLoop(mono, rateHz),
    durationS: mono.length / rateHz,
    likeness: likenessOf(mono, rateHz),
  }
}
