import type { Selectable } from 'kysely'
import {
  type Clause,
  type ClauseKey,
  type Duration,
  groundedClauses,
  KNOWN_LICENCES,
  openSentencesOn,
  READING_VERSION,
} from '../../core/rights'
import type { Services } from '../context'
import type { Db } from '../database/db'
import { inTransaction } from '../database/in-transaction'
import type { Schema } from '../database/schema'
import { appendToLedger, readingSha256 } from '../ledger/ledger'
import type { Connector } from '../ports/connector'
import { heldToText } from './held-to-text'
import { type ReadText, readingOrOpen } from './read-text'

type TermsRow = Selectable<Schema['terms']>

/** How terms are read, apart from their text. */
interface Reading {
  readonly title: string
  readonly short_title: string
  readonly spdx_id: string | null
  readonly misfit_label: string | null
  readonly duration: Duration
  readonly clauses: readonly Clause[]
}

/** Terms that were declared from a text have keys that begin so. */
const FROM_TEXT = 'text-'

/**
 * Reads stored terms again that were read in an earlier way, from their stored text. Each is an entry of the ledger, with what came out
 * otherwise and the hash of the reading.
 *
 * A point that was confirmed once stays allowed only where the text is still read as allowing it, with nothing open beside it.
 *
 * @returns How many came out otherwise.
 */
export async function readTermsAgain({
  db: handle,
  connectors,
  readText,
}: Pick<Services, 'db' | 'readText'> & {
  readonly connectors: readonly Pick<Connector, 'id' | 'readings'>[]
}): Promise<number> {
  const rows = await handle.selectFrom('terms').selectAll().where('reading_version', '<', READING_VERSION).execute()
  let changed = 0
  for (const row of rows) {
    const before = JSON.parse(row.clauses_json) as Clause[]
    const own = connectors.find(({ id }) => id === row.source_id)?.readings
    const now = await readingOf(row, before, { own, readText })
    if (await inTransaction(handle, (db) => storeReading(db, row, before, now))) changed++
  }
  return changed
}

/** @returns Whether it came out otherwise. */
async function storeReading(db: Db, row: TermsRow, before: readonly Clause[], now: Reading): Promise<boolean> {
  const changes = changedAnswers(before, now.clauses)
  const isOther = changes.length > 0 || now.duration !== row.duration || now.spdx_id !== row.spdx_id
  const { clauses, ...columns } = now
  const values = isOther ? { ...columns, clauses_json: JSON.stringify(clauses) } : {}
  await db
    .updateTable('terms')
    .set({ ...values, reading_version: READING_VERSION })
    .where('id', '=', row.id)
    .execute()
  const { id: termsId, title, sha256 } = row
  const reading = isOther ? readingSha256(clauses, now.duration) : readingSha256(before, row.duration)
  const body = { termsId, title, sha256, version: READING_VERSION, changes, readingSha256: reading }
  await appendToLedger(db, 'terms-read-again', body)
  return isOther
}

/** @param own How the library's own terms are read. */
async function readingOf(
  row: TermsRow,
  before: readonly Clause[],
  { own, readText }: { readonly own: Connector['readings']; readonly readText: ReadText },
): Promise<Reading> {
  const known = row.spdx_id === null ? undefined : KNOWN_LICENCES.get(row.spdx_id)
  if (known) {
    const { key, version, title, url, text } = row
    const served = { ...known, key, version, title, url, text, shortTitle: row.short_title }
    const held = await heldToText(served, readText)
    return {
      title: held.title,
      short_title: held.shortTitle,
      spdx_id: held.spdxId,
      misfit_label: held.misfitLabel,
      duration: held.duration,
      clauses: groundedClauses(text, held.readings),
    }
  }
  const { title, short_title, spdx_id, misfit_label } = row
  const same = { title, short_title, spdx_id, misfit_label }
  if (own && row.misfit_label === null) return { ...same, ...readByPhrases(row, own) }
  if (!row.key.startsWith(FROM_TEXT)) return { ...same, duration: row.duration as Duration, clauses: before }
  const clauses = await stillSaid(row.text, before, readText)
  const holds = clauses.some(({ key, answer }) => key === 'duration' && answer === 'yes')
  return { ...same, duration: holds ? (row.duration as Duration) : 'not-stated', clauses }
}

/** A library's own terms are read by phrases that stand with its connector. */
function readByPhrases(row: TermsRow, own: NonNullable<Connector['readings']>): Pick<Reading, 'clauses' | 'duration'> {
  const clauses = groundedClauses(row.text, own)
  const isStated = clauses.some(({ key, quote }) => key === 'duration' && quote !== null)
  return { clauses, duration: isStated ? (row.duration as Duration) : 'not-stated' }
}

/** Clauses that a text is still read as saying; a prohibition that was overlooked counts now. */
async function stillSaid(text: string, before: readonly Clause[], readText: ReadText): Promise<Clause[]> {
  const { clauses, open } = await readingOrOpen(text, readText)
  return before.map((clause): Clause => {
    const now = clauses.find(({ key }) => key === clause.key)
    if (now && now.answer !== 'yes')
      return { key: clause.key, answer: now.answer, quote: now.quote, ...(now.limit ? { limit: now.limit } : {}) }
    if (clause.answer !== 'yes') return clause
    const isPlain = now?.answer === 'yes' && openSentencesOn(clause.key, open).length === 0
    return isPlain ? { ...clause, quote: now.quote } : { key: clause.key, answer: 'not-stated', quote: null }
  })
}

function changedAnswers(
  before: readonly Clause[],
  now: readonly Clause[],
): { readonly key: ClauseKey; readonly from: string; readonly to: string }[] {
  return now.flatMap(({ key, answer }) => {
    const from = before.find((clause) => clause.key === key)?.answer ?? 'not-stated'
    return from === answer ? [] : [{ key, from, to: answer }]
  })
}
