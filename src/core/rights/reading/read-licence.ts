import { plainText } from '../plain-text'
import { namedLicences, type RecognisedBy } from './named-licences'
import { wordsOf } from './normalised-text'
import type { ClauseReading } from './proposed-clause'
import { proposedClauses } from './proposed-clauses'
import { type LicenceDifference, nearestLicence } from './same-licence'

/** A known licence that a text is, or that it names as its own. */
export interface RecognisedLicence {
  readonly spdxId: string
  readonly by: RecognisedBy
  /** The words that it was recognised by; for a whole text its first words. */
  readonly quote: string
  /** 0 to 1. */
  readonly confidence: number
}

/** A known licence that a text is nearly, and is not. */
export interface LikeLicence extends LicenceDifference {
  readonly spdxId: string
}

/** What a text says about rights, as far as it can be told. A proposal: it is never taken for papers by itself. */
export interface LicenceReading extends ClauseReading {
  /** At most one for each licence, the surest first. More than one is for the creator to decide. */
  readonly licences: readonly RecognisedLicence[]
  /** The licence that the text would be but for the words that are given; null where there is none. */
  readonly like: LikeLicence | null
}

/** Version of how texts are read. It goes up whenever the same text may be read otherwise. */
export const READING_VERSION = 3

const QUOTE_LENGTH = 120

/**
 * Reads a licence text, a tag, an address or the contents of a README.
 *
 * @param known Full texts of the known licences, by SPDX identifier.
 */
export function readLicence(text: string, known: ReadonlyMap<string, string>): LicenceReading {
  const plain = plainText(text)
  const nearest = nearestLicence(plain, known)
  if (nearest && !nearest.difference) {
    const quote = plain.trim().replace(/\s+/g, ' ').slice(0, QUOTE_LENGTH)
    return {
      licences: [{ spdxId: nearest.spdxId, by: 'text', quote, confidence: 1 }],
      like: null,
      clauses: [],
      open: [],
    }
  }
  if (nearest?.difference) {
    // Only what is not the licence's own is read: it may take back what the licence gives.
    const own = ` ${wordsOf(known.get(nearest.spdxId) ?? '').join(' ')} `
    const reading = proposedClauses(plain, (sentence) => own.includes(` ${wordsOf(sentence).join(' ')} `))
    return { licences: [], like: { spdxId: nearest.spdxId, ...nearest.difference }, ...reading }
  }
  const named = namedLicences(plain)
  const naming = new Set(named.map(({ sentence }) => sentence))
  return {
    licences: named.map(({ sentence: _, ...licence }) => licence),
    like: null,
    // A sentence that does nothing but name a licence is understood.
    ...proposedClauses(plain, (sentence) => naming.has(sentence)),
  }
}
