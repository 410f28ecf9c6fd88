import type { MaskingWire } from '../../contract'

/** Of what is said, a third lost is noticed; a half is not understood. */
const SPEECH_LOST_FROM = 0.35
/** A sound that is not heard for more of its length is as good as not there. */
const SOUND_LOST_FROM = 0.5

/** What a sound and the voice do to each other, as a sentence; null where they leave each other alone. */
export function coverWords({ speechLostFraction, speechLost, soundLostFraction }: MaskingWire): string | null {
  if ((speechLostFraction ?? 0) >= SPEECH_LOST_FROM || speechLost.length > 0)
    return `covers the voice: ${percent(speechLostFraction ?? 0)} of what is said meanwhile is lost.`
  if ((soundLostFraction ?? 0) >= SOUND_LOST_FROM)
    return `is not heard under the voice for ${percent(soundLostFraction ?? 0)} of its length.`
  return null
}

function percent(fraction: number): string {
  return `${Math.round(100 * fraction)} %`
}
