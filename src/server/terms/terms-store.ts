import { type Clause, type Duration, groundedClauses, READING_VERSION, type Terms } from '../../core/rights'
import { webAddress } from '../../core/visible-text'
import { type Db, nowIso } from '../database/open'
import { appendToLedger, readingSha256, sha256Of } from '../ledger/ledger'
import type { HeldTerms } from './held-to-text'

/**
 * Stores terms as served, held to their text; the same version with the same text is stored once, and entered in the ledger.
 *
 * @param db A transaction. @returns The id of the terms.
 */
export async function storeTerms(db: Db, sourceId: string, served: HeldTerms): Promise<number> {
  const sha256 = sha256Of(served.text)
  const known = await db
    .selectFrom('terms')
    .select('id')
    .where('source_id', '=', sourceId)
    .where('key', '=', served.key)
    .where('version', '=', served.version)
    .where('sha256', '=', sha256)
    .executeTakeFirst()
  if (known) return known.id
  const clauses = groundedClauses(served.text, served.readings)
  // How long it holds counts only if the words for it are there.
  const isStated = clauses.some(({ key, quote }) => key === 'duration' && quote !== null)
  const duration: Duration = isStated ? served.duration : 'not-stated'
  const { id } = await db
    .insertInto('terms')
    .values({
      source_id: sourceId,
      key: served.key,
      version: served.version,
      title: served.title,
      short_title: served.shortTitle,
      spdx_id: served.spdxId,
      url: webAddress(served.url),
      text: served.text,
      sha256,
      duration,
      clauses_json: JSON.stringify(clauses),
      seen_at: nowIso(),
      misfit_label: served.misfitLabel,
      reading_version: READING_VERSION,
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  const { key, version, title, misfitLabel } = served
  const reading = readingSha256(clauses, duration)
  const misfit: Record<string, string> = misfitLabel === null ? {} : { misfitLabel }
  await appendToLedger(db, 'terms-seen', {
    termsId: id,
    source: sourceId,
    key,
    version,
    title,
    sha256,
    readingSha256: reading,
    ...misfit,
  })
  return id
}

/** Columns of a terms row that the rule engine needs. */
export interface TermsRow {
  readonly title: string
  readonly short_title: string
  readonly version: string
  readonly spdx_id: string | null
  readonly url: string | null
  readonly duration: string
  readonly clauses_json: string
}

/** A terms row as the rule engine takes it. */
export function termsOfRow(row: TermsRow): Terms {
  return {
    title: row.title,
    shortTitle: row.short_title,
    version: row.version,
    spdxId: row.spdx_id,
    url: row.url,
    duration: row.duration as Duration,
    clauses: JSON.parse(row.clauses_json) as Clause[],
  }
}
