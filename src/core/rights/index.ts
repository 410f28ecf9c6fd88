export { type Contradiction, contradictionOf } from './contradiction'
export {
  type Decision,
  type Duty,
  decide,
  decidedByTerms,
  type Fit,
  fitOf,
  isPermitted,
  type Question,
  type Verdict,
} from './decide'
export { shortened, type TextPart, textDifferences } from './differences'
export { KNOWN_LICENCES, type KnownLicence } from './known-licences'
export { OWN_WORK } from './own-work'
export type { DecisionContext, Declared, Offer, Papers, SaidBeside } from './papers'
export { limitWords, type PlainTerms, plainTerms } from './plain-words'
export { type PlanSighting, planPeriodEnd } from './plan-history'
export {
  type ClauseReading,
  type LicenceReading,
  type LikeLicence,
  normalisedText,
  type OpenSentence,
  openSentencesOn,
  type ProposedClause,
  proposedClauses,
  READING_VERSION,
  type RecognisedLicence,
  readLicence,
  TOO_MANY_OPEN,
} from './reading'
export { coversEarlierVideos, type Reason } from './reasons'
export { SAME_LICENCE, type Settlement } from './settlements'
export {
  CLAUSE_KEYS,
  type Clause,
  type ClauseAnswer,
  type ClauseKey,
  clauseOf,
  DURATIONS,
  type Duration,
  groundedClauses,
  type Limit,
  RESTRICTIONS,
  type Reading,
  readingsOfClause,
  type Terms,
  USE_PLACES,
  type UsePlace,
} from './terms'
export { CLAUSE_WORDS, isEarningUse, USE_PLACE_WORDS, type Uses, usesInWords } from './uses'
