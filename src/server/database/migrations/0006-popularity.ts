import { type Kysely, sql } from 'kysely'

/** The most taken sound of a source is asked for whenever a sound changes: by an index that is one look. */
export async function popularity(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE INDEX popular_sounds ON sounds (source_id, popularity)`.execute(db)
}
