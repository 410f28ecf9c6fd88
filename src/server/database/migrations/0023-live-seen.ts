import { type Kysely, sql } from 'kysely'

/** When each sound of a library that is searched and not mirrored was last among its answers. */
export async function liveSeen(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE TABLE live_seen (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, seen_at TEXT NOT NULL
  ) STRICT`.execute(db)
  await sql`CREATE INDEX live_seen_by_time ON live_seen (seen_at)`.execute(db)
}
