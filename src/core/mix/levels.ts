import type { MomentKind } from '../moments'
import { overlaps, type TimeRange } from '../time-range'

/** How sounds of each kind sit to the voice, LU. */
export type LevelsToVoice = Readonly<Record<MomentKind, number>>

/** Where a mix is begun, not where it ends: values that stand until the creator sets others. */
export const LEVEL_TO_VOICE_LU: LevelsToVoice = {
  hit: -4,
  swell: -8,
  spot: -6,
  ambience: -18,
  music: -14,
  silence: 0,
}

/** Without a voice that can be measured a mix is built around this, LUFS: what speech is usually delivered at. */
const USUAL_VOICE_LUFS = -20
/** Quieter than this is a pause within speech, LUFS. */
const PAUSE_LUFS = -50
const VALUES_PER_S = 10
const LEAST_GAIN_DB = -40
const MOST_GAIN_DB = 12

/**
 * How loud somebody speaks, LUFS: the mean power of the momentary loudness where speech is, without pauses. Null where nobody does.
 *
 * @param momentaryLufs Ten values a second; the first ends at 0.4 s.
 */
export function voiceLoudness(momentaryLufs: ArrayLike<number>, speech: readonly TimeRange[]): number | null {
  let power = 0
  let count = 0
  for (const { startS, endS } of speech) {
    // A value belongs to the 0.4 s before it.
    for (let at = Math.round(startS * VALUES_PER_S); at < Math.round(endS * VALUES_PER_S) - 4; at++) {
      const lufs = momentaryLufs[at]
      if (lufs === undefined || lufs < PAUSE_LUFS) continue
      power += 10 ** (lufs / 10)
      count++
    }
  }
  return count === 0 ? null : 10 * Math.log10(power / count)
}

/** What a placed sound sits to. */
export interface Beside {
  readonly lufs: number
  /** The voice, where somebody speaks meanwhile; else what the cut sounds like there. */
  readonly what: 'voice' | 'cut'
}

/**
 * How loud it is where a sound is heard: the voice, where somebody speaks meanwhile, else the cut itself. Null where neither is.
 *
 * @param momentaryLufs Of the cut, ten values a second; the first ends at 0.4 s.
 */
export function loudnessBeside(
  momentaryLufs: ArrayLike<number>,
  speech: readonly TimeRange[],
  span: TimeRange,
): Beside | null {
  const spoken = speech
    .filter((one) => overlaps(one, span))
    .map(({ startS, endS }) => ({ startS: Math.max(startS, span.startS), endS: Math.min(endS, span.endS) }))
    .map(widened)
  const voice = voiceLoudness(momentaryLufs, spoken)
  if (voice !== null) return { lufs: voice, what: 'voice' }
  const cut = voiceLoudness(momentaryLufs, [widened(span)])
  return cut === null ? null : { lufs: cut, what: 'cut' }
}

/** A shorter stretch gives no value of its own. */
const SHORTEST_S = 0.6

/** A stretch that is long enough to be measured, around the same middle. */
function widened({ startS, endS }: TimeRange): TimeRange {
  if (endS - startS >= SHORTEST_S) return { startS, endS }
  const middle = (startS + endS) / 2
  const start = Math.max(0, middle - SHORTEST_S / 2)
  return { startS: start, endS: start + SHORTEST_S }
}

/** The level at which a sound sits so much over what is beside it, dB. @param soundLufs As it is heard at 0 dB. @param offsetLu Negative for under it. */
export function gainToSit(soundLufs: number, besideLufs: number, offsetLu: number): number {
  const wanted = besideLufs + offsetLu - soundLufs
  return Math.round(10 * Math.min(MOST_GAIN_DB, Math.max(LEAST_GAIN_DB, wanted))) / 10
}

/**
 * The level that a sound is first placed at, dB: so that it sits to the voice as its kind does.
 *
 * @param soundLufs Loudness of the sound; null leaves it as it is. @param voiceLufs Null where nobody speaks.
 */
export function suggestedGainDb(
  kind: MomentKind,
  soundLufs: number | null,
  voiceLufs: number | null,
  levels: LevelsToVoice = LEVEL_TO_VOICE_LU,
): number {
  return soundLufs === null ? 0 : gainToSit(soundLufs, voiceLufs ?? USUAL_VOICE_LUFS, levels[kind])
}
