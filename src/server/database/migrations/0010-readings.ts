import { type Kysely, sql } from 'kysely'

/** Texts of terms stay as they are; how they are read has a version, and is made anew when the way of reading was mended. */
export async function readings(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE terms ADD COLUMN reading_version INTEGER NOT NULL DEFAULT 1`.execute(db)
  await sql`DROP TRIGGER terms_are_immutable`.execute(db)
  await sql`CREATE TRIGGER terms_are_immutable BEFORE UPDATE OF id, source_id, key, version, url, text, sha256, seen_at ON terms
    BEGIN SELECT RAISE(ABORT, 'terms are immutable'); END`.execute(db)
  await sql`CREATE TRIGGER state_after_reading AFTER UPDATE OF clauses_json, duration ON terms BEGIN
    DELETE FROM video_states; UPDATE state_revision SET number = number + 1; END`.execute(db)
}
