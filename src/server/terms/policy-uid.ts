import type { StatedTerms } from '../../core/formats/odrl'
import { canonicalJson, type Json } from '../../core/ledger'
import { sha256Of } from '../ledger/ledger'

/** Identifier of terms as a policy: by everything that they say. */
export function policyUid(terms: StatedTerms): string {
  return `urn:good-thud:terms:${sha256Of(canonicalJson(terms as unknown as Json))}`
}
