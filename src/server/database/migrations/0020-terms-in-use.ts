import { type Kysely, sql } from 'kysely'

/** Which terms of a library are in use, by one look for each: a library that tells its changes is asked for them at every sync. */
export async function termsInUse(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE INDEX terms_in_use ON sounds (source_id, terms_id) WHERE withdrawn_at IS NULL`.execute(db)
}
