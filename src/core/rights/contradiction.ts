import { KNOWN_LICENCES } from './known-licences'
import type { LicenceReading } from './reading'
import { type ClauseKey, clauseOf, RESTRICTIONS, type Terms } from './terms'

/** A point on which words beside a file say otherwise than what was declared of it. */
export interface Contradiction {
  readonly key: ClauseKey
  /** What the text says, word for word. */
  readonly quote: string
}

/**
 * The first point on which a text forbids or asks for something that declared terms allow freely; null where there is none. A text that is
 * milder than what was declared contradicts nothing.
 */
export function contradictionOf(
  terms: Terms,
  { licences, clauses }: Pick<LicenceReading, 'licences' | 'clauses'>,
): Contradiction | null {
  const isFree = (key: ClauseKey): boolean => {
    const { answer } = clauseOf(terms, key)
    // Terms that are silent on what only restricts ask for nothing there.
    return answer === 'yes' || (answer === 'not-stated' && RESTRICTIONS.includes(key))
  }
  const named = licences
    .filter(({ spdxId }) => spdxId !== terms.spdxId)
    .flatMap(({ spdxId, quote }) =>
      (KNOWN_LICENCES.get(spdxId)?.readings ?? []).map(({ key, answer }) => ({ key, answer, quote })),
    )
  const found = [...clauses, ...named].find(({ key, answer }) => answer !== 'yes' && isFree(key))
  return found ? { key: found.key, quote: found.quote } : null
}
