import type { PointWire } from '../../../contract'
import { trimmedEnd } from '../../../core/trimmed-end'
import { messages } from '../../../messages'

/** Name of each kind of point, for its heading. */
export const POINT_WORDS: Readonly<Record<PointWire['kind'], string>> = {
  'nothing-listened-for': messages.clearance.nothingListenedForTitle,
  'list-grew': messages.clearance.newSoundsSinceTheCheck,
  'not-listened-for': messages.clearance.soundsThatCouldNotBe,
  unfinished: messages.clearance.notSearchedToTheEnd,
  track: messages.clearance.aTrackThatWasNot,
  undecoded: messages.clearance.aPartThatCouldNot,
  speech: messages.clearance.speech,
  music: messages.clearance.unexplainedMusic,
  noise: messages.clearance.unexplainedNoise,
  event: messages.clearance.unexplainedSound,
  'which-copy': messages.clearance.whichCopyWasUsed,
}

/** What each answer says, on its button. */
export const ANSWER_WORDS: Readonly<Record<PointWire['answerKinds'][number], string>> = {
  own: messages.clearance.itIsMyOwn,
  from: messages.clearance.itIsFromASound,
  accepted: messages.clearance.acceptIt,
}

/** An answer on record, in a sentence. */
export function answerSentence({ kind, answer }: PointWire): string | null {
  if (!answer) return null
  const why = answer.reason ? `: ${trimmedEnd(answer.reason.trim(), '. ')}` : ''
  if (answer.kind === 'own') return messages.clearance.putOnRecordThatIt(answer.by, why)
  if (answer.kind === 'accepted') return messages.clearance.acceptedBy(answer.by, why)
  const from = `“${answer.fromTitle ?? messages.clearance.aSoundThatIsGone}”`
  if (kind === 'which-copy') return messages.clearance.putOnRecordThatWas(answer.by, from, why)
  return messages.clearance.saidThatItIsFrom(answer.by, from)
}

/** Tells the points of one check apart. */
export function keyOfPoint({ kind, trackIndex, places, soundIds }: PointWire): string {
  return `${kind} ${trackIndex} ${places[0]?.startS} ${soundIds.join(' ')}`
}
