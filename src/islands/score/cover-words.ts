import type { MaskingWire } from '../../contract'
import { counted } from '../format/words'
import type { MaskingDesk } from './use-masking'

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

type Compared = Pick<MaskingDesk, 'byId' | 'isVoiceHeard' | 'isOutdated' | 'notCompared' | 'inPart'>

/** What a comparison comes to, beside the list of what was found. What was not compared is said, and never held to be all right. */
export function maskingSummary(masking: Compared, found: number): string {
  if (!masking.isVoiceHeard) return 'The sound of the cut is not heard here: there is no voice to compare with.'
  const { byId, isOutdated, notCompared, inPart } = masking
  const isWhole = !isOutdated && notCompared === 0 && inPart === 0
  return [
    found === 0 && byId.size > 0 && 'No sound that was compared covers the voice or is lost under it.',
    byId.size === 0 && isWhole && 'Nobody speaks while a placed sound is heard.',
    notCompared > 0 && `${counted(notCompared, 'sound')} could not be compared: the audio is not here.`,
    inPart > 0 && `${counted(inPart, 'long sound was', 'long sounds were')} compared for the first two minutes only.`,
    isOutdated && 'What was changed since is not in it: check again.',
  ]
    .filter(Boolean)
    .join(' ')
}
