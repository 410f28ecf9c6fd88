import { type Kysely, sql } from 'kysely'

/** The format that a download was asked for in; and the most taken sound of a source, which is asked for whenever a sound changes, by one look into an index. */
export async function downloads(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE jobs ADD COLUMN format TEXT`.execute(db)
  await sql`CREATE INDEX popular_sounds ON sounds (source_id, popularity)`.execute(db)
}
