/** Where and how a video is published. */
export const USE_PLACES = [
  'online',
  'paid-advertising',
  'client-work',
  'broadcast',
  'cinema',
  'game',
  'audio-only',
  'internal',
] as const
export type UsePlace = (typeof USE_PLACES)[number]

/** The points on which terms are read. */
export const CLAUSE_KEYS = [
  ...USE_PLACES,
  'earning',
  'modification',
  'credit',
  'share-alike',
  'territory',
  'duration',
] as const
export type ClauseKey = (typeof CLAUSE_KEYS)[number]

/** What terms say on one point. "not-stated" never counts as yes. */
export type ClauseAnswer = 'yes' | 'no' | 'duty' | 'not-stated'

/** One point of terms, with the words that it rests on. */
export interface Clause {
  readonly key: ClauseKey
  readonly answer: ClauseAnswer
  /** The passage of the terms' text, word for word; null when nothing is stated. */
  readonly quote: string | null
}

/** How long a use that was once allowed stays allowed. */
export type Duration = 'for-ever' | 'published-while-active' | 'only-while-active' | 'not-stated'

/** One version of one licence text, with its clauses. Immutable. */
export interface Terms {
  readonly title: string
  /** "CC BY" or "Plan", for lists. */
  readonly shortTitle: string
  readonly version: string
  /** SPDX identifier, or null for a library's own terms. */
  readonly spdxId: string | null
  readonly url: string | null
  readonly clauses: readonly Clause[]
  readonly duration: Duration
}

/** How a text is to be read on one point: the answer holds only if the phrase stands in the text. */
export interface Reading {
  readonly key: ClauseKey
  readonly answer: Exclude<ClauseAnswer, 'not-stated'>
  readonly phrase: string
}

/**
 * Reads a text: an answer is kept only where its phrase stands in the text, word for word but for white space.
 *
 * @returns One clause for each key, "not-stated" where no phrase was found. The first reading of a key that holds counts.
 */
export function groundedClauses(text: string, readings: readonly Reading[]): Clause[] {
  const flat = flattened(text)
  return CLAUSE_KEYS.map((key) => {
    const held = readings.find((reading) => reading.key === key && flat.includes(flattened(reading.phrase)))
    return held ? { key, answer: held.answer, quote: held.phrase } : { key, answer: 'not-stated', quote: null }
  })
}

/** The clause of terms on one point; terms that lack it do not state it. */
export function clauseOf(terms: Terms, key: ClauseKey): Clause {
  return terms.clauses.find((clause) => clause.key === key) ?? { key, answer: 'not-stated', quote: null }
}

function flattened(text: string): string {
  return text.replace(/[“”]/g, '"').replace(/[‘’]/g, "'").replace(/\s+/g, ' ').trim().toLowerCase()
}
