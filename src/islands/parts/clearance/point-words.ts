import type { PointWire } from '../../../contract'
import { trimmedEnd } from '../../../core/trimmed-end'

/** Name of each kind of point, for its heading. */
export const POINT_WORDS: Readonly<Record<PointWire['kind'], string>> = {
  'nothing-listened-for': 'Nothing was listened for',
  'list-grew': 'New sounds since the check',
  'not-listened-for': 'Sounds that could not be listened for',
  unfinished: 'Not searched to the end',
  track: 'A track that was not listened to',
  undecoded: 'A part that could not be decoded',
  speech: 'Speech',
  music: 'Unexplained music',
  noise: 'Unexplained noise',
  event: 'Unexplained sound',
  'which-copy': 'Which copy was used',
}

/** What each answer says, on its button. */
export const ANSWER_WORDS: Readonly<Record<PointWire['answerKinds'][number], string>> = {
  own: 'It is my own',
  from: 'It is from a sound or file',
  accepted: 'Accept it',
}

/** An answer on record, in a sentence. */
export function answerSentence({ kind, answer }: PointWire): string | null {
  if (!answer) return null
  const why = answer.reason ? `: ${trimmedEnd(answer.reason.trim(), '. ')}` : ''
  if (answer.kind === 'own') return `${answer.by} put on record that it is their own${why}.`
  if (answer.kind === 'accepted') return `Accepted by ${answer.by}${why}.`
  const from = `“${answer.fromTitle ?? 'a sound that is gone'}”`
  if (kind === 'which-copy') return `${answer.by} put on record that ${from} was used${why}.`
  return `${answer.by} said that it is from ${from}. It was looked for there, and is not heard: the point stays open.`
}

/** Tells the points of one check apart. */
export function keyOfPoint({ kind, trackIndex, places, soundIds }: PointWire): string {
  return `${kind} ${trackIndex} ${places[0]?.startS} ${soundIds.join(' ')}`
}
