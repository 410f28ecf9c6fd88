import { type Kysely, sql } from 'kysely'

/** What papers rest on: it is corrected by what comes after it, and never taken out or written over. */
const LASTING = ['terms', 'grants', 'evidence'] as const

/** A row that is replaced is one that is taken out, which triggers see with `recursive_triggers`. */
export async function noRemoval(db: Kysely<unknown>): Promise<void> {
  for (const table of LASTING)
    await sql
      .raw(
        `CREATE TRIGGER ${table}_stay BEFORE DELETE ON ${table}
          BEGIN SELECT RAISE(ABORT, 'rows of ${table} are never taken out; add a correction'); END`,
      )
      .execute(db)
  // The Desk asks for entries of one kind.
  await sql`CREATE INDEX entries_of_kind ON ledger (kind, number)`.execute(db)
}
