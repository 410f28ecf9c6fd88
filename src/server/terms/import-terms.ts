import { OdrlError, termsOfOdrl } from '../../core/formats/odrl'
import type { Json } from '../../core/ledger'
import { CLAUSE_KEYS } from '../../core/rights'
import type { Services } from '../context'
import { DomainError } from '../domain-error'
import { sha256Of } from '../ledger/ledger'
import { ELSEWHERE_ID } from '../rows/elsewhere-source'
import { storeTerms } from './terms-store'

const MAX_TEXT = 200_000

/**
 * Takes in an ODRL policy as a version of terms. It becomes papers of nothing until the creator says so.
 *
 * @returns The id of the terms. @throws {DomainError} not-odrl, too-large.
 */
export async function importTerms({ db }: Pick<Services, 'db'>, document: Json): Promise<number> {
  const imported = read(document)
  if (imported.text.length > MAX_TEXT) throw new DomainError('too-large', 'The text of the policy is too long.')
  const readings = imported.readings.filter(({ key }) => CLAUSE_KEYS.includes(key))
  const served = {
    ...imported,
    key: `odrl-${sha256Of(imported.text).slice(0, 16)}`,
    title: imported.title.slice(0, 200),
    version: imported.version.slice(0, 40),
    url: imported.url && /^https?:\/\//.test(imported.url) ? imported.url : null,
    shortTitle: 'Imported',
    readings,
  }
  return db.transaction().execute((trx) => storeTerms(trx, ELSEWHERE_ID, served))
}

function read(document: Json) {
  try {
    return termsOfOdrl(document)
  } catch (error) {
    if (error instanceof OdrlError) throw new DomainError(error.code, error.message, { cause: error })
    throw error
  }
}
