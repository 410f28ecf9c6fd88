import type { ClauseKey, Terms } from './terms'

/** What shows that a copy may be used: a terms version and the grant made under it. */
export interface Papers {
  readonly terms: Terms
  /** Name of the plan, order or "free licence" that the copy was acquired under. */
  readonly grantTitle: string
  /** Period of the plan, YYYY-MM-DD, where the grant hangs on one. */
  readonly planFrom: string | null
  readonly planUntil: string | null
  /** Keys of the videos that the grant was bound to, the first first, where it is good for a number of videos only. */
  readonly boundTo?: readonly string[]
  /** Duties that the creator has met for the video that is weighed, and has put on record. */
  readonly met?: readonly ClauseKey[]
  /** A receipt or other evidence is on file. */
  readonly hasProof?: boolean
}

/** Papers that could be had: another tier, a plan, a sound that would do as well. */
export interface Offer {
  readonly kind: 'tier' | 'plan' | 'sound'
  readonly title: string
  /** For people: "9.00 EUR"; null where it costs nothing. */
  readonly price: string | null
  readonly papers: Papers
}

/** What papers are weighed for: the day on which it is asked, and the video. */
export interface Occasion {
  /** YYYY-MM-DD. */
  readonly asOf: string
  /** Key of the video that is weighed, or null when the question is a general one. */
  readonly video?: string | null
}
