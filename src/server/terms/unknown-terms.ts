import type { HeldTerms } from './held-to-text'

/** What stands for the terms of a sound of which nobody has said any: it states nothing, so it allows nothing. */
export const UNKNOWN_TERMS: HeldTerms = {
  key: 'unknown',
  version: '1',
  title: 'Terms that nobody has told',
  shortTitle: 'Not known',
  spdxId: null,
  url: null,
  text: 'Nothing is known of the terms of this sound. What is not stated is not allowed.',
  duration: 'not-stated',
  readings: [],
  misfitLabel: null,
}
