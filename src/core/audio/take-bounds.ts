import type { TimeRange } from '../time-range'

/** Levels are looked at in steps of this length, s. */
const STEP_S = 0.005
/** A sound begins where it stands so much out of the noise of the room, and ends where it sinks back into it, dB. */
const OVER_NOISE_DB = 12
/** A part of the steps that is taken for the noise of the room: the softest. */
const NOISE_QUANTILE = 0.1
/** Nothing is expected to be heard so far below the loudest step, dB. */
const RANGE_DB = 50
/** Quieter than this is silence, full scale. */
const SILENCE = 1e-4
/** Kept before the onset and after the end, s: an onset is never as sharp as it is found. */
const BEFORE_S = 0.01
const AFTER_S = 0.05

/**
 * From where to where something is heard in a recording, above the noise of the room.
 *
 * @param channels Of the same length, full scale 1. @param sampleRateHz 8 000 to 192 000. @returns Null where nothing is heard at all.
 */
export function takeBounds(channels: readonly Float32Array[], sampleRateHz: number): TimeRange | null {
  const frames = channels[0]?.length ?? 0
  const step = Math.max(1, Math.round(STEP_S * sampleRateHz))
  const levels = Array.from({ length: Math.ceil(frames / step) }, (_, at) => {
    let most = 0
    for (const channel of channels) {
      let sum = 0
      const end = Math.min(frames, (at + 1) * step)
      for (let n = at * step; n < end; n++) sum += (channel[n] as number) ** 2
      most = Math.max(most, Math.sqrt(sum / (end - at * step)))
    }
    return most
  })
  const loudest = levels.reduce((most, level) => Math.max(most, level), 0)
  if (loudest < SILENCE) return null
  const noise = [...levels].sort((a, b) => a - b)[Math.floor(NOISE_QUANTILE * levels.length)] as number
  const isHeard = Math.min(loudest / 2, Math.max(noise * 10 ** (OVER_NOISE_DB / 20), loudest * 10 ** (-RANGE_DB / 20)))
  const first = levels.findIndex((level) => level >= isHeard)
  const last = levels.reduce((newest, level, at) => (level >= isHeard ? at : newest), -1)
  return {
    startS: Math.max(0, first * STEP_S - BEFORE_S),
    endS: Math.min(frames / sampleRateHz, (last + 1) * STEP_S + AFTER_S),
  }
}
