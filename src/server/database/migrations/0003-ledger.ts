import { createHash } from 'node:crypto'
import { type Kysely, sql } from 'kysely'
import { canonicalJson, chained, type Json, type LedgerKind } from '../../../core/ledger'
import type { Db } from '../db'
import type { Schema } from '../schema'

/** The append-only ledger; what was on file before it existed is entered with the time at which it happened. */
export async function ledger(db: Kysely<Schema>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
  await enterTerms(db)
  await enterGrants(db)
}

const STATEMENTS = [
  `CREATE TABLE ledger (
    number INTEGER PRIMARY KEY, at TEXT NOT NULL, kind TEXT NOT NULL, body_json TEXT NOT NULL,
    previous TEXT NOT NULL UNIQUE, hash TEXT NOT NULL UNIQUE
  ) STRICT`,
  `CREATE TRIGGER ledger_keeps_its_entries BEFORE UPDATE ON ledger
    BEGIN SELECT RAISE(ABORT, 'entries of the ledger are never changed; add a correction'); END`,
  `CREATE TRIGGER ledger_loses_no_entries BEFORE DELETE ON ledger
    BEGIN SELECT RAISE(ABORT, 'entries of the ledger are never taken out; add a correction'); END`,
]

async function enterTerms(db: Db): Promise<void> {
  const rows = await db
    .selectFrom('terms')
    .select(['id', 'source_id', 'key', 'version', 'title', 'sha256', 'seen_at'])
    .orderBy('id')
    .execute()
  for (const { id, source_id, key, version, title, sha256, seen_at } of rows)
    await appendToLedger(db, 'terms-seen', { termsId: id, source: source_id, key, version, title, sha256 }, seen_at)
}

async function enterGrants(db: Db): Promise<void> {
  const rows = await db
    .selectFrom('grants')
    .innerJoin('sounds', 'sounds.id', 'grants.sound_id')
    .innerJoin('terms', 'terms.id', 'grants.terms_id')
    .select(['grants.id', 'grants.copy_sha256', 'grants.title', 'grants.order_ref', 'grants.licensee'])
    .select(['grants.plan_from', 'grants.plan_until', 'grants.credit_line', 'grants.acquired_at'])
    .select(['sounds.source_id', 'sounds.external_id', 'sounds.title as sound_title', 'sounds.maker'])
    .select(['terms.sha256 as terms_sha256'])
    .orderBy('grants.id')
    .execute()
  for (const row of rows)
    await appendToLedger(
      db,
      'acquired',
      {
        grantId: row.id,
        source: row.source_id,
        sound: row.external_id,
        title: row.sound_title,
        maker: row.maker,
        copySha256: row.copy_sha256,
        termsSha256: row.terms_sha256,
        grant: row.title,
        planFrom: row.plan_from,
        planUntil: row.plan_until,
        order: row.order_ref,
        licensee: row.licensee,
        creditLine: row.credit_line,
      },
      row.acquired_at,
    )
}

/** Enters an event that happened before the ledger existed. Stands here, since a migration does not change with the code. */
async function appendToLedger(
  db: Db,
  kind: LedgerKind,
  body: { readonly [key: string]: Json },
  at: string,
): Promise<void> {
  const last = await db.selectFrom('ledger').select(['number', 'hash']).orderBy('number', 'desc').executeTakeFirst()
  const hashOf = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex')
  const { body: entered, ...entry } = chained(last ?? null, { at, kind, body }, hashOf)
  await db
    .insertInto('ledger')
    .values({ ...entry, body_json: canonicalJson(entered) })
    .execute()
}
