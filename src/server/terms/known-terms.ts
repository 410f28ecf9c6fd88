import { KNOWN_LICENCES } from '../../core/rights'
import { licenceText } from '../licences/licence-texts'
import type { HeldTerms } from './held-to-text'

/** A built-in licence as terms: its text is the licence itself. */
export function knownTerms(spdxId: string): HeldTerms {
  const licence = KNOWN_LICENCES.get(spdxId)
  if (!licence) throw new Error(`${spdxId} is not built in`)
  const { version, title, shortTitle, url, duration, readings } = licence
  return {
    key: spdxId,
    version,
    title,
    shortTitle,
    spdxId,
    url,
    duration,
    readings,
    text: licenceText(spdxId),
    misfitLabel: null,
  }
}
