import { CELL_BANDS, CELL_HOP } from './cells'
import { HEARING_RATE_HZ } from './constants'
import { type BandSums, type FrameRange, REDUNDANCY } from './sums'

/** Lengths that are tried for a fade, s. */
const FADES_S = [0.12, 0.25, 0.5, 1, 2, 4]
/** What a fade must gain in evidence before it is believed, nats. */
const FADE_COST = 10

/** The part of a sound that is heard with straight fades at its ends. */
export interface FadedPart extends FrameRange {
  /** Frames (of cells) over which it comes in and goes out; 0 for none. */
  readonly fadeIn: number
  readonly fadeOut: number
  /** What the fades gain in evidence, nats. */
  readonly gained: number
}

/**
 * Looks whether the level of a part rises at its start or falls at its end.
 *
 * @param part Found with a constant level: a faded end is cut where it is at about half. @param inside Frames that lie in the track.
 */
export function fadedPart(
  sums: BandSums,
  noise: Float32Array,
  gain: number,
  { part, inside, bands }: { readonly part: FrameRange; readonly inside: FrameRange; readonly bands: number },
): FadedPart {
  const { cross, power } = frameEvidence(sums, noise, gain, bands)
  const start = bestRamp((frame) => [cross[frame] as number, power[frame] as number], part.from, part.to, inside.from)
  const mirrored = bestRamp(
    (frame) => [cross[-frame] as number, power[-frame] as number],
    -(part.to - 1),
    -(part.from - 1),
    -(inside.to - 1),
  )
  return {
    from: start.at,
    to: 1 - mirrored.at,
    fadeIn: start.length,
    fadeOut: mirrored.length,
    gained: start.gained + mirrored.gained,
  }
}

/** Course of the level over all frames of a sound: 0 outside the part, straight at its fades, 1 between. */
export function levelProfile(frames: number, { from, to, fadeIn, fadeOut }: FadedPart): Float32Array {
  const profile = new Float32Array(frames)
  for (let frame = from; frame < to; frame++) {
    const rise = fadeIn > 0 ? Math.min(1, (frame - from + 0.5) / fadeIn) : 1
    const fall = fadeOut > 0 ? Math.min(1, (to - frame - 0.5) / fadeOut) : 1
    profile[frame] = Math.min(rise, fall)
  }
  return profile
}

/** For each frame, what it says for the sound at this gain is 2 r cross - r² power, with r the course of the level. */
function frameEvidence(sums: BandSums, noise: Float32Array, gain: number, bands: number) {
  const cross = new Float32Array(sums.frames)
  const power = new Float32Array(sums.frames)
  for (let frame = 0; frame < sums.frames; frame++) {
    for (let band = 0; band < bands; band++) {
      const i = frame * CELL_BANDS + band
      const weight = 1 / ((noise[i] as number) * REDUNDANCY)
      cross[frame] = (cross[frame] as number) + gain * (sums.cross[i] as number) * weight
      power[frame] = (power[frame] as number) + gain * gain * (sums.soundPower[i] as number) * weight
    }
  }
  return { cross, power }
}

/** The ramp from the earliest of `lowest` on that says more than the sudden start at `from`; frames count upward into the part. */
function bestRamp(
  evidenceAt: (frame: number) => readonly [cross: number, power: number],
  from: number,
  to: number,
  lowest: number,
): { readonly at: number; readonly length: number; readonly gained: number } {
  let best = { at: from, length: 0, gained: 0 }
  for (const seconds of FADES_S) {
    const length = Math.round((seconds * HEARING_RATE_HZ) / CELL_HOP)
    if (length >= to - from) break
    for (let at = Math.max(lowest, from - length); at <= from; at += Math.max(1, length >> 3)) {
      let gained = -FADE_COST
      const end = Math.min(to, at + length)
      for (let frame = at; frame < end; frame++) {
        const [cross, power] = evidenceAt(frame)
        const level = (frame - at + 0.5) / length
        gained += 2 * level * cross - level * level * power
        if (frame >= from) gained -= 2 * cross - power
      }
      if (at + length < from)
        for (let frame = at + length; frame < from; frame++) {
          const [cross, power] = evidenceAt(frame)
          gained += 2 * cross - power
        }
      if (gained > best.gained) best = { at, length, gained }
    }
  }
  return best
}
