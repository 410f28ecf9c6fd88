import type { MaskingWire } from '../../contract'
import { messages } from '../../messages'
import type { MaskingDesk } from './use-masking'

/** Of what is said, a third lost is noticed; a half is not understood. */
const SPEECH_LOST_FROM = 0.35
/** A sound that is not heard for more of its length is as good as not there. */
const SOUND_LOST_FROM = 0.5

/** What a sound and the voice do to each other, as a sentence; null where they leave each other alone. */
export function coverWords({ speechLostFraction, speechLost, soundLostFraction }: MaskingWire): string | null {
  if ((speechLostFraction ?? 0) >= SPEECH_LOST_FROM || speechLost.length > 0)
    return messages.score.coversTheVoiceOfWhat(percent(speechLostFraction ?? 0))
  if ((soundLostFraction ?? 0) >= SOUND_LOST_FROM)
    return messages.score.isNotHeardUnderThe(percent(soundLostFraction ?? 0))
  return null
}

function percent(fraction: number): string {
  return `${Math.round(100 * fraction)} %`
}

type Compared = Pick<MaskingDesk, 'byId' | 'isVoiceHeard' | 'isOutdated' | 'notCompared' | 'inPart'>

/** What a comparison comes to, beside the list of what was found. What was not compared is said, and never held to be all right. */
export function maskingSummary(masking: Compared, found: number): string {
  if (!masking.isVoiceHeard) return messages.score.theSoundOfTheCut
  const { byId, isOutdated, notCompared, inPart } = masking
  const isWhole = !isOutdated && notCompared === 0 && inPart === 0
  return [
    found === 0 && byId.size > 0 && messages.score.noSoundThatWasCompared,
    byId.size === 0 && isWhole && messages.score.nobodySpeaksWhileAPlaced,
    notCompared > 0 && messages.score.couldNotBeComparedThe(messages.counts.sounds(notCompared)),
    inPart > 0 && messages.score.comparedForTheFirstTwo(messages.counts.longSoundsWere(inPart)),
    isOutdated && messages.score.whatWasChangedSinceIs,
  ]
    .filter(Boolean)
    .join(' ')
}
