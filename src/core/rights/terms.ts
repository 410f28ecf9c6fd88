import { plainText } from './plain-text'

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

/** Points that only restrict what others allow. */
const RESTRICTING = ['projects', 'audience', 'platforms', 'registration', 'proof', 'seats', 'video-length'] as const

/**
 * The points on which terms are read.
 *
 * For "projects", "audience", "platforms", "registration", "proof", "seats" and "video-length", "yes" means that there is nothing to mind:
 * any number of videos, any audience, every platform, no registration, no proof asked for, anyone's work, any length. They restrict what other points allow, so where
 * terms are silent on them there is nothing to meet. On every other point silence is no permission.
 */
export const CLAUSE_KEYS = [
  ...USE_PLACES,
  'earning',
  'modification',
  'credit',
  'share-alike',
  'territory',
  'duration',
  'standalone',
  'transfer',
  ...RESTRICTING,
] as const
export type ClauseKey = (typeof CLAUSE_KEYS)[number]
export const RESTRICTIONS: readonly ClauseKey[] = RESTRICTING

/** What terms say on one point. "not-stated" never counts as yes. */
export type ClauseAnswer = 'yes' | 'no' | 'duty' | 'not-stated'

/** What a duty is measured by, where the words give a measure. */
export type Limit =
  /** ISO 3166-1 alpha-2 codes. */
  | { readonly kind: 'countries'; readonly codes: readonly string[] }
  | { readonly kind: 'videos'; readonly max: number }
  | { readonly kind: 'people'; readonly max: number }
  /** People who work with the sounds. */
  | { readonly kind: 'seats'; readonly max: number }
  | { readonly kind: 'length'; readonly maxS: number }
  | { readonly kind: 'platforms'; readonly names: readonly string[] }
  /** YYYY-MM-DD, the last day. */
  | { readonly kind: 'until'; readonly day: string }
  | { readonly kind: 'credit'; readonly owed: boolean; readonly where: string; readonly template: string | null }

/** One point of terms, with the words that it rests on. */
export interface Clause {
  readonly key: ClauseKey
  readonly answer: ClauseAnswer
  /** The passage of the terms' text, word for word; null when nothing is stated. */
  readonly quote: string | null
  readonly limit?: Limit
  /** What the text says against it elsewhere, word for word; only where it contradicts itself. */
  readonly against?: string
}

/** How long a use that was once allowed stays allowed. */
export const DURATIONS = [
  'for-ever',
  'until-date',
  'published-while-active',
  'only-while-active',
  'not-stated',
] as const
export type Duration = (typeof DURATIONS)[number]

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
  readonly limit?: Limit
}

/**
 * Reads a text: an answer counts only where its phrase stands in the text, word for word but for white space.
 *
 * @returns One clause for each key, "not-stated" where no phrase was found. Where several readings of a key hold and disagree, the text
 *   contradicts itself: the one that restricts most counts, and the other is quoted against it.
 */
export function groundedClauses(text: string, readings: readonly Reading[]): Clause[] {
  const flat = flattened(text)
  return CLAUSE_KEYS.map((key) => {
    const all = readings.filter((reading) => reading.key === key && flat.includes(flattened(reading.phrase)))
    const [first, ...others] = all
    if (!first) return { key, answer: 'not-stated', quote: null }
    const held = others.reduce((strictest, next) => (isStricter(next, strictest) ? next : strictest), first)
    const other = all.find((one) => one !== held && (isStricter(held, one) || isStricter(one, held)))
    return {
      key,
      answer: held.answer,
      quote: held.phrase,
      ...(held.limit ? { limit: held.limit } : {}),
      ...(other ? { against: other.phrase } : {}),
    }
  })
}

const STRICTNESS: Readonly<Record<Reading['answer'], number>> = { yes: 0, duty: 1, no: 2 }

/** Whether one reading restricts more than another. */
function isStricter(one: Reading, other: Reading): boolean {
  if (one.answer !== other.answer) return STRICTNESS[one.answer] > STRICTNESS[other.answer]
  const [a, b] = [one.limit, other.limit]
  if (!a || !b) return a !== undefined && b === undefined && one.answer === 'duty' && a.kind !== 'credit'
  if (a.kind === 'until' && b.kind === 'until') return a.day < b.day
  if (a.kind === 'length' && b.kind === 'length') return a.maxS < b.maxS
  if ((a.kind === 'videos' || a.kind === 'people' || a.kind === 'seats') && a.kind === b.kind) return a.max < b.max
  return false
}

/** A clause as it is read from a text again: its words, and those against it. None where nothing is stated. */
export function readingsOfClause({ key, answer, quote, limit, against }: Clause): Reading[] {
  if (answer === 'not-stated' || quote === null) return []
  const reading: Reading = { key, answer, phrase: quote, ...(limit ? { limit } : {}) }
  return against === undefined ? [reading] : [reading, { key, answer: 'yes', phrase: against }]
}

/** The clause of terms on one point; terms that lack it do not state it. */
export function clauseOf(terms: Terms, key: ClauseKey): Clause {
  return terms.clauses.find((clause) => clause.key === key) ?? { key, answer: 'not-stated', quote: null }
}

function flattened(text: string): string {
  return plainText(text).replace(/[“”]/g, '"').replace(/[‘’]/g, "'").replace(/\s+/g, ' ').trim().toLowerCase()
}
