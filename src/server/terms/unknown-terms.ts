import { terms as messages } from '../../messages/server/terms'
import type { HeldTerms } from './held-to-text'

/** What stands for the terms of a sound of which nobody has said any: it states nothing, so it allows nothing. */
export const UNKNOWN_TERMS: HeldTerms = {
  key: 'unknown',
  version: '2',
  title: messages.unknownLicence,
  shortTitle: messages.notKnown,
  spdxId: null,
  url: null,
  text: messages.licenceThisSoundNotKnown,
  duration: 'not-stated',
  readings: [],
  misfitLabel: null,
}
