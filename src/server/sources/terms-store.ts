import { createHash } from 'node:crypto'
import { type Clause, type Duration, groundedClauses, type Terms } from '../../core/rights'
import { type Db, nowIso } from '../database/open'
import type { ServedTerms } from './connector'

/** Stores terms as served; the same version with the same text is stored once. Returns its id. */
export async function storeTerms(db: Db, sourceId: string, served: ServedTerms): Promise<number> {
  const sha256 = createHash('sha256').update(served.text, 'utf8').digest('hex')
  const clauses = groundedClauses(served.text, served.readings)
  const known = await db
    .selectFrom('terms')
    .select('id')
    .where('source_id', '=', sourceId)
    .where('key', '=', served.key)
    .where('version', '=', served.version)
    .where('sha256', '=', sha256)
    .executeTakeFirst()
  if (known) return known.id
  const { id } = await db
    .insertInto('terms')
    .values({
      source_id: sourceId,
      key: served.key,
      version: served.version,
      title: served.title,
      short_title: served.shortTitle,
      spdx_id: served.spdxId,
      url: served.url,
      text: served.text,
      sha256,
      // How long it holds counts only if the words for it are there.
      duration: clauses.some(({ key, quote }) => key === 'duration' && quote !== null) ? served.duration : 'not-stated',
      clauses_json: JSON.stringify(clauses),
      seen_at: nowIso(),
    })
    .returning('id')
    .executeTakeFirstOrThrow()
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
