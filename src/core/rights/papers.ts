import type { Contradiction } from './contradiction'
import type { ClauseKey, Terms } from './terms'
import type { Uses } from './uses'

/** What shows that a copy may be used: a terms version and the grant made under it. */
export interface Papers {
  readonly terms: Terms
  /** Name of the plan, order or "free licence" that the copy was acquired under. */
  readonly grantTitle: string
  /** Period of the plan, YYYY-MM-DD, where the grant hangs on one. */
  readonly planFrom: string | null
  readonly planUntil: string | null
  /** Day on which the copy was acquired, YYYY-MM-DD; absent for what would be acquired on the day that is asked about. */
  readonly acquiredOn?: string
  /** Who put these papers on record by word alone, and on which day; null or absent for papers that a library gave. */
  readonly declared?: Declared | null
  /** Words beside the file that say otherwise than what was declared, and that nobody has answered. */
  readonly contradictedBy?: SaidBeside | null
  /** Ids of the videos that the grant was bound to, the first first, where it is good for a number of videos only. */
  readonly boundTo?: readonly number[]
  /** Duties that the creator has met for the video that is weighed, and has put on record. */
  readonly met?: readonly ClauseKey[]
  /** A receipt or other evidence is on file. */
  readonly hasProof?: boolean
}

/** Words in the tag of a file, or in a text beside it. */
export interface SaidBeside extends Contradiction {
  /** Where they stand: the file itself, or a text. */
  readonly where: string
}

/** Whose word papers rest on. */
export interface Declared {
  readonly by: string
  /** YYYY-MM-DD. */
  readonly on: string
}

/** Papers that could be had: another tier, a plan, a sound that would do as well. */
export interface Offer {
  readonly kind: 'tier' | 'plan' | 'sound'
  readonly title: string
  /** For people: "9.00 EUR"; null where it costs nothing. */
  readonly price: string | null
  readonly papers: Papers
}

/** What a decision is made for: where and how a video is published, the day on which it is asked, and the video. */
export interface DecisionContext {
  readonly uses: Uses
  /** YYYY-MM-DD, in the time zone of the creator. */
  readonly asOf: string
  /** Id of the video, or null when the question is a general one. */
  readonly videoId?: number | null
  /** Length of the finished video, s; null or absent while no finished file is known. */
  readonly videoLengthS?: number | null
}
