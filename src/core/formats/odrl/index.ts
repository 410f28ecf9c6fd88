export {
  type GrantScope,
  ODRL_CONTEXT,
  ODRL_PROFILE,
  type OdrlPolicy,
  PROFILE_TERMS,
  type StatedDecision,
  type StatedTerms,
} from './policy'
export { type ImportedTerms, OdrlError, type StatedPolicy, termsOfOdrl } from './read'
export { odrlOfTerms, type PolicyScope } from './write'
