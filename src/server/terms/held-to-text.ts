import { KNOWN_LICENCES } from '../../core/rights'
import { terms as messages } from '../../messages/server/terms'
import type { ServedTerms } from '../ports/connector'
import { type ReadText, readingOrOpen } from './read-text'

/** Terms as they count, and the label that did not fit their text. */
export interface HeldTerms extends ServedTerms {
  readonly misfitLabel: string | null
}

/**
 * Holds terms to their text: what is read by heart of a licence counts only where the text is that licence and nothing else.
 *
 * A label that does not fit its text gives terms that are not known.
 */
export async function heldToText(served: ServedTerms, readText: ReadText): Promise<HeldTerms> {
  const { spdxId, text } = served
  if (spdxId === null || !KNOWN_LICENCES.has(spdxId)) return { ...served, misfitLabel: null }
  const [is] = (await readingOrOpen(text, readText)).licences
  if (is?.by === 'text' && is.spdxId === spdxId) return { ...served, misfitLabel: null }
  return {
    ...served,
    title: messages.textLabelled(served.title),
    shortTitle: messages.notKnown,
    spdxId: null,
    duration: 'not-stated',
    readings: [],
    misfitLabel: spdxId,
  }
}
