import type { ClauseAnswer, ClauseKey, Limit } from '../terms'

/** A clause that a sentence of a text speaks for. The creator confirms it, or does not. */
export interface ProposedClause {
  readonly key: ClauseKey
  readonly answer: Exclude<ClauseAnswer, 'not-stated'>
  /** The sentence, as it stands in the text. */
  readonly quote: string
  /** 0 to 1: how plainly it is said. */
  readonly confidence: number
  /** The measure of a restriction, where the sentence gives one. */
  readonly limit?: Limit
  /** What the text says for the contrary elsewhere, word for word; the stricter of the two is the answer. */
  readonly against?: string
}

/** A sentence that may bear on what is allowed and that was not understood. */
export interface OpenSentence {
  /** As it stands in the text. */
  readonly quote: string
  /** Points that it touches; empty when it may bear on every one. */
  readonly keys: readonly ClauseKey[]
}

/** What a text says on its own, without a licence that it names. */
export interface ClauseReading {
  /** At most one for each point; points on which the text is silent are left out. */
  readonly clauses: readonly ProposedClause[]
  /** In the order of the text. Until someone has read and set them aside, they keep what they touch from being allowed. */
  readonly open: readonly OpenSentence[]
}
