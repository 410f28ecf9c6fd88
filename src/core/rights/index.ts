export {
  type Decision,
  decide,
  decidedByTerms,
  type Fit,
  fitOf,
  type Papers,
  type Reason,
  settlements,
  type Verdict,
} from './decide'
export { KNOWN_LICENCES, type KnownLicence } from './known-licences'
export { type ProposedClause, proposedClauses } from './phrase-rules'
export {
  type LicenceReading,
  normalisedText,
  type RecognisedBy,
  type RecognisedLicence,
  readLicence,
} from './read-licence'
export {
  CLAUSE_KEYS,
  type Clause,
  type ClauseAnswer,
  type ClauseKey,
  clauseOf,
  type Duration,
  groundedClauses,
  type Reading,
  type Terms,
  USE_PLACES,
  type UsePlace,
} from './terms'
export { CLAUSE_WORDS, isEarningUse, USE_PLACE_WORDS, type Uses, usesInWords } from './uses'
