import type { ClauseAnswer, ClauseKey, Limit } from './terms'

/** A clause that a phrase of a text speaks for. The creator confirms it, or does not. */
export interface ProposedClause {
  readonly key: ClauseKey
  readonly answer: Exclude<ClauseAnswer, 'not-stated'>
  /** The sentence, as it stands in the text. */
  readonly quote: string
  /** 0 to 1: how plainly it is said. */
  readonly confidence: number
  /** The measure of a restriction, where the sentence gives one. */
  readonly limit?: Limit
}
