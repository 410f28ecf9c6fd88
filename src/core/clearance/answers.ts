import { coveredFraction, type TimeRange } from '../time-range'
import type { PointKind } from './point-kinds'

/** How a creator settles a point that no paper settles. */
export const ANSWER_KINDS = ['own', 'from', 'accepted'] as const
export type AnswerKind = (typeof ANSWER_KINDS)[number]

/** What a creator put on record about a stretch, a track or a copy. It holds for that content at that place alone. */
export interface PointAnswer {
  readonly id: number
  readonly pointKind: PointKind
  /** SHA-256 of the file that it was said of. */
  readonly fileSha256: string
  readonly trackIndex: number | null
  readonly places: readonly TimeRange[]
  /** Sounds that the point names. */
  readonly soundIds: readonly number[]
  readonly kind: AnswerKind
  /** For "from": the sound that it is from, and for a recording that is there several times, the one that was used. */
  readonly fromSoundId: number | null
  readonly reason: string
  /** Name of the person who says so. */
  readonly by: string
  /** UTC, ISO 8601. */
  readonly at: string
}

/** What a point is about, for finding the answer to it. */
export interface AnswerablePoint {
  readonly kind: PointKind
  readonly trackIndex: number | null
  readonly places: readonly TimeRange[]
  readonly soundIds: readonly number[]
}

/** Whether what is answered is this very point: the same stretches of the same track, and the same sounds. */
export function isSamePoint(a: AnswerablePoint, b: AnswerablePoint): boolean {
  return (
    a.kind === b.kind &&
    a.trackIndex === b.trackIndex &&
    a.places.length === b.places.length &&
    a.places.every(({ startS, endS }, at) => startS === b.places[at]?.startS && endS === b.places[at]?.endS) &&
    a.soundIds.length === b.soundIds.length &&
    a.soundIds.every((id, at) => id === b.soundIds[at])
  )
}

/** A place is answered when this much of it lies in what was answered: a check that is made again may move its ends a little. */
const COVERED_MIN = 0.95

/**
 * The newest answer that covers a whole point.
 *
 * @returns Null when there is none: an answer to a part, to another track, to other sounds or to another file does not count.
 */
export function findAnswer(
  point: AnswerablePoint,
  fileSha256: string,
  answers: readonly PointAnswer[],
): PointAnswer | null {
  const fitting = answers.filter(
    (answer) =>
      answer.pointKind === point.kind &&
      answer.fileSha256 === fileSha256 &&
      answer.trackIndex === point.trackIndex &&
      point.soundIds.every((id) => answer.soundIds.includes(id)) &&
      point.places.every((place) => coveredFraction(place, answer.places) >= COVERED_MIN),
  )
  return fitting.reduce<PointAnswer | null>((newest, next) => (newest && newest.id > next.id ? newest : next), null)
}
