import type { HeldTerms } from './held-to-text'

/** What stands for the terms of a sound of which nobody has said any: it states nothing, so it allows nothing. */
export const UNKNOWN_TERMS: HeldTerms = {
  key: 'unknown',
  version: '2',
  title: 'Unknown licence',
  shortTitle: 'Not known',
  spdxId: null,
  url: null,
  text: 'The licence of this sound is not known. What is not stated is not allowed.',
  duration: 'not-stated',
  readings: [],
  misfitLabel: null,
}
