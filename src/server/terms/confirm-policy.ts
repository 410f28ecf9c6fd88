import { CLAUSE_WORDS, type Clause, type ClauseKey, RESTRICTIONS, readingsOfClause } from '../../core/rights'
import { terms as messages } from '../../messages/server/terms'
import type { Services } from '../context'
import { inTransaction } from '../database/in-transaction'
import { DomainError, notFound } from '../domain-error'
import { sha256Of } from '../ledger/ledger'
import { confirmedKey, isUnconfirmed } from './policy-key'
import { storeTerms, termsOfRow } from './terms-store'

/**
 * Puts on record which points of an imported policy the creator has confirmed, as a version of terms of its own that papers may stand under.
 *
 * What the policy forbids, restricts or asks for holds whether it was confirmed or not.
 *
 * @returns Its id. @throws {DomainError} not-found, bad-clauses.
 */
export function confirmPolicy(
  { db }: Pick<Services, 'db'>,
  termsId: number,
  confirmed: readonly ClauseKey[],
): Promise<number> {
  return inTransaction(db, async (trx) => {
    const row = await trx.selectFrom('terms').selectAll().where('id', '=', termsId).executeTakeFirst()
    if (!row || !isUnconfirmed(row.key)) throw notFound(messages.thisImportedPolicy)
    const terms = termsOfRow(row)
    const missing = confirmed.find((key) => !pointsToConfirm(terms.clauses).some((clause) => clause.key === key))
    if (missing) throw new DomainError('bad-clauses', messages.thePolicyPermitsNothingOn(CLAUSE_WORDS[missing]))
    const points = [...new Set(confirmed)].sort()
    const readings = terms.clauses
      .filter((clause) => points.includes(clause.key) || !isPermission(clause))
      .flatMap(readingsOfClause)
    return storeTerms(trx, row.source_id, {
      key: confirmedKey(row.key, sha256Of(points.join(' '))),
      version: row.version,
      title: row.title,
      shortTitle: messages.asConfirmed,
      spdxId: row.spdx_id,
      url: row.url,
      text: row.text,
      duration: points.includes('duration') ? terms.duration : 'not-stated',
      readings,
      misfitLabel: null,
    })
  })
}

/** Points of a policy that count only when the creator has confirmed them. */
export function pointsToConfirm(clauses: readonly Clause[]): Clause[] {
  return clauses.filter(isPermission)
}

const DUTIES: readonly ClauseKey[] = ['credit', 'share-alike', ...RESTRICTIONS]

/** A plain yes, or a permission that is limited or holds on a condition; a duty on a point that only restricts is none. */
function isPermission({ key, answer }: Clause): boolean {
  return answer === 'yes' || (answer === 'duty' && !DUTIES.includes(key))
}
