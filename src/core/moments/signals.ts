import type { PictureEvent } from '../picture'
import type { TimeRange } from '../time-range'

/** All that is known of a cut and bears on what it needs. */
export interface CutSignals {
  readonly durationS: number
  /** What the sound track is made of, in order; empty for a cut without sound. */
  readonly segments: readonly (TimeRange & { readonly kind: 'speech' | 'music' | 'noise' | 'silence' })[]
  /** Sound events that the cut already has, s, in order. */
  readonly soundEventsS: readonly number[]
  readonly picture: readonly PictureEvent[]
}

/** What was read of a cut, as far as its signals need it. */
interface CutFacts {
  readonly sound: Pick<CutSignals, 'durationS' | 'segments' | 'soundEventsS'> | null
  readonly picture: { readonly durationS: number; readonly events: readonly PictureEvent[] } | null
}

/** Length of a cut, s: of what is longer, its sound or its picture; 0 where neither is there. */
export function cutLengthS({
  sound,
  picture,
}: {
  readonly sound: { readonly durationS: number } | null
  readonly picture: { readonly durationS: number } | null
}): number {
  return Math.max(sound?.durationS ?? 0, picture?.durationS ?? 0)
}

/** What is known of a cut for suggestions and pacing. */
export function cutSignals({ sound, picture }: CutFacts): CutSignals {
  return {
    durationS: cutLengthS({ sound, picture }),
    segments: sound?.segments ?? [],
    soundEventsS: sound?.soundEventsS ?? [],
    picture: picture?.events ?? [],
  }
}

/** Values a dB, and what silence is taken off, of a loudness in one byte. */
const BYTES_PER_LU = 2.5
const BYTE_OF_0_LUFS = 250
/** Loudness of a byte of 0, LUFS. */
const SILENT_LUFS = -120

/** Momentary loudness in one byte a value, to 0.4 LU: 0 is silence. */
export function loudnessBytes(momentaryLufs: Float32Array): Uint8Array {
  return Uint8Array.from(momentaryLufs, (lufs) => {
    const value = Math.round(lufs * BYTES_PER_LU + BYTE_OF_0_LUFS)
    return lufs > -99.5 ? Math.max(1, Math.min(255, value)) : 0
  })
}

/** Loudness of such bytes, LUFS; -120 for silence. */
export function loudnessOfBytes(bytes: Uint8Array): Float32Array {
  return Float32Array.from(bytes, (byte) => (byte === 0 ? SILENT_LUFS : (byte - BYTE_OF_0_LUFS) / BYTES_PER_LU))
}

/** A step of loudness by so much within {@link RISE_STEPS} is an event, LU. */
const RISE_LU = 7
const RISE_STEPS = 3
/** Two events lie at least so far apart, steps of loudness. */
const EVENT_GAP_STEPS = 5
/** Softer than this nothing is an event, LUFS. */
const SOFTEST_LUFS = -50
/** Steps of momentary loudness a second. */
const STEPS_PER_S = 10
/** The window of momentary loudness is 400 ms long: its rise is seen about so much after it began, s. */
const WINDOW_LAG_S = 0.1

/**
 * Sound events that a cut already has: what stands out of its track, and where its loudness rises at once while nobody speaks.
 *
 * @param momentaryLufs Ten values a second, BS.1770 momentary loudness. @param standOut Stretches that stand out of the track.
 */
export function soundEvents(
  momentaryLufs: ArrayLike<number>,
  segments: CutSignals['segments'],
  standOut: readonly TimeRange[],
): number[] {
  const speech = segments.filter(({ kind }) => kind === 'speech')
  const found = standOut.map(({ startS }) => startS)
  let last = Number.NEGATIVE_INFINITY
  for (let step = RISE_STEPS; step < momentaryLufs.length; step++) {
    const now = momentaryLufs[step] as number
    const before = Math.max(SOFTEST_LUFS - RISE_LU, momentaryLufs[step - RISE_STEPS] as number)
    if (!(now > SOFTEST_LUFS) || now - before < RISE_LU || step - last < EVENT_GAP_STEPS) continue
    const timeS = (step - RISE_STEPS) / STEPS_PER_S + WINDOW_LAG_S
    last = step
    if (!speech.some(({ startS, endS }) => timeS > startS - 0.4 && timeS < endS)) found.push(timeS)
  }
  const sorted = found.sort((a, b) => a - b)
  return sorted.filter((timeS, at) => at === 0 || timeS - (sorted[at - 1] as number) > 0.25)
}
