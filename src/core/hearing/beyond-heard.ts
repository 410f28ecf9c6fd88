import { joinedRanges, type TimeRange } from '../time-range'
import { BREAKDOWN_HOP, coveredSteps, guarded, SILENCE_DB } from './breakdown-steps'
import { expandedTrack } from './compact'
import { HEARING_RATE_HZ } from './constants'
import type { Detection } from './detections'
import type { PreparedSound } from './prepare'
import { subtracted } from './subtract'
import type { Track } from './track'

/**
 * More is there than what was heard where this part of the power is left without it (6 dB less), over so many steps to each side (half a second in all).
 * Measured: what a codec leaves over of 46 sounds stays under that with AAC at 64 and Opus at 96 kbit/s; with Opus at 48, one second of one of them does not.
 */
const BEYOND_SHARE = 0.25
const BEYOND_STEPS = 8

/**
 * Steps of heard sounds in which more is there. Only where a sound can be taken out exactly does what is left say so: not in a room, and not at
 * another speed, where an error of 0.01 % leaves over so much of 11 of 26 sounds. What was heard in the side leaves all of the middle. Voices are told by themselves.
 */
export function beyondSteps(
  { rest, whole }: { readonly rest: Track; readonly whole: Track },
  voiced: Uint8Array,
  heard: readonly Detection[],
  steps: number,
): Uint8Array {
  const isExact = ({ treatment, inSide }: Detection): boolean =>
    inSide === true || treatment === 'as-is' || treatment === 'muffled'
  const exact = coveredSteps(heard.filter(isExact), steps)
  const inexact = coveredSteps(
    heard.filter((one) => !isExact(one)),
    steps,
  )
  const nearVoice = guarded(voiced, new Uint8Array(steps))
  const powerSums = (track: Track): Float64Array => {
    const sums = new Float64Array(steps + 1)
    for (let step = 0; step < steps; step++) {
      let power = 0
      if (exact[step] && !nearVoice[step])
        for (const value of track.midSamples(step * BREAKDOWN_HOP, (step + 1) * BREAKDOWN_HOP)) power += value * value
      sums[step + 1] = (sums[step] as number) + power / BREAKDOWN_HOP
    }
    return sums
  }
  const [left, all] = [powerSums(rest), powerSums(whole)]
  const silence = 10 ** (SILENCE_DB / 10)
  return exact.map((flag, step) => {
    if (!flag || inexact[step] || nearVoice[step]) return 0
    const from = Math.max(0, step - BEYOND_STEPS)
    const to = Math.min(steps, step + BEYOND_STEPS + 1)
    const over = (sums: Float64Array): number => (sums[to] as number) - (sums[from] as number)
    return over(left) > BEYOND_SHARE * over(all) && over(left) > silence * (to - from) ? 1 : 0
  })
}

/** Flagged steps as stretches of time. */
export function flaggedRanges(flags: Uint8Array, durationS: number): TimeRange[] {
  const second = (step: number): number => Math.min(durationS, (step * BREAKDOWN_HOP) / HEARING_RATE_HZ)
  return joinedRanges(
    Array.from(flags).flatMap((flag, step) => (flag ? [{ startS: second(step), endS: second(step + 1) }] : [])),
  )
}

/**
 * Stretches of heard sounds in which more is there than they explain, in a track that was stored: for sounds that are heard in it later.
 *
 * @param bytes As `compactTrack` made it. @param heard All that is heard in the track. @param speech Where someone speaks.
 * @param soundOf The sound of a detection; where there is none, nothing is taken out, and all of it is left.
 * @throws {CompactError} compact-damaged, compact-outdated.
 */
export function beyondHeardInStored(
  bytes: Uint8Array,
  heard: readonly Detection[],
  speech: readonly TimeRange[],
  soundOf: (detection: Detection) => PreparedSound | null,
): TimeRange[] {
  const whole = expandedTrack(bytes)
  const steps = Math.max(1, Math.ceil(whole.frames / BREAKDOWN_HOP))
  const rest = subtracted(whole, heard, soundOf)
  const beyond = beyondSteps({ rest, whole }, coveredSteps(speech, steps), heard, steps)
  return flaggedRanges(beyond, whole.frames / HEARING_RATE_HZ)
}
