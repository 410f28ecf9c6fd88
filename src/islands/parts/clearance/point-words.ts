import type { PointWire } from '../../../contract'
import { ABOUT_WHICH } from '../../../core/clearance'
import { trimmedEnd } from '../../../core/trimmed-end'
import { messages } from '../../../messages'

/** Name of each kind of point, for its heading. */
export const POINT_WORDS: Readonly<Record<PointWire['kind'], string>> = {
  'nothing-listened-for': messages.clearance.nothingListenedForTitle,
  'unread-source': messages.clearance.sourcesThatWereNotRead,
  'list-grew': messages.clearance.newSoundsSinceTheCheck,
  'not-listened-for': messages.clearance.soundsThatCouldNotBe,
  'known-in-part': messages.clearance.soundsKnownByAnExcerpt,
  unfinished: messages.clearance.notSearchedToTheEnd,
  track: messages.clearance.aTrackThatWasNot,
  undecoded: messages.clearance.aPartThatCouldNot,
  opposed: messages.clearance.leftAndRightCancel,
  speech: messages.clearance.speech,
  music: messages.clearance.unexplainedMusic,
  noise: messages.clearance.unexplainedNoise,
  event: messages.clearance.unexplainedSound,
  placed: messages.clearance.placedAndNotHeard,
  unsure: messages.clearance.onlyPossible,
  'which-copy': messages.clearance.whichCopyWasUsed,
}

/** What each answer says, on its button. */
const ANSWER_WORDS: Readonly<Record<PointWire['answerKinds'][number], string>> = {
  own: messages.clearance.itIsMyOwn,
  from: messages.clearance.itIsFromASound,
  accepted: messages.clearance.acceptIt,
}

/** What an answer to a point says, on its button. */
export function answerWords({ kind }: Pick<PointWire, 'kind'>, answer: PointWire['answerKinds'][number]): string {
  return kind === 'unsure' && answer === 'from' ? messages.clearance.itIsThatSound : ANSWER_WORDS[answer]
}

/** An answer on record, in a sentence. */
export function answerSentence({ kind, answer }: PointWire): string | null {
  if (!answer) return null
  const why = answer.reason ? `: ${trimmedEnd(answer.reason.trim(), '. ')}` : ''
  if (answer.kind === 'own') return messages.clearance.putOnRecordThatIt(answer.by, why)
  if (answer.kind === 'accepted') return messages.clearance.acceptedBy(answer.by, why)
  const from = `“${answer.fromTitle ?? messages.clearance.aSoundThatIsGone}”`
  if (ABOUT_WHICH.includes(kind)) return messages.clearance.putOnRecordThatWas(answer.by, from, why)
  return messages.clearance.saidThatItIsFrom(answer.by, from)
}

/** Tells the points of one check apart. */
export function keyOfPoint({ kind, trackIndex, places, soundIds }: PointWire): string {
  return `${kind} ${trackIndex} ${places[0]?.startS} ${soundIds.join(' ')}`
}
