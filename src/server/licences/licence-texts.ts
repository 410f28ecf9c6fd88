import { createRequire } from 'node:module'
import { KNOWN_LICENCES, type LicenceReading, readLicence } from '../../core/rights'

const require = createRequire(import.meta.url)

/** Full text of a licence that is built in. @throws Error for any other identifier. */
export function licenceText(spdxId: string): string {
  if (!KNOWN_LICENCES.has(spdxId)) throw new Error(`${spdxId} is not built in`)
  return (require(`spdx-license-list/licenses/${spdxId}.json`) as { licenseText: string }).licenseText
}

/** Reads a text with all licences that are built in. */
export function licenceReading(text: string): LicenceReading {
  return readLicence(text, new Map([...KNOWN_LICENCES.keys()].map((id) => [id, licenceText(id)])))
}
