export { normalisedText } from './normalised-text'
export type { ClauseReading, OpenSentence, ProposedClause } from './proposed-clause'
export { openSentencesOn, proposedClauses, TOO_MANY_OPEN } from './proposed-clauses'
export {
  type LicenceReading,
  type LikeLicence,
  READING_VERSION,
  type RecognisedLicence,
  readLicence,
} from './read-licence'
