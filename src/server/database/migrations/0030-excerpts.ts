import { type Kysely, sql } from 'kysely'

/**
 * How much of a sound was known by its preview when its file came, s, and that the states of videos rest on how long sounds are listed. For files that came
 * before it is not known: what was listened for by their previews is listened for anew by the files.
 */
export async function excerpts(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE grants ADD COLUMN heard_duration_s REAL`.execute(db)
  await sql`
    CREATE TRIGGER state_after_length AFTER UPDATE OF duration_s ON sounds WHEN old.duration_s <> new.duration_s BEGIN
      DELETE FROM video_states;
      UPDATE state_revision SET number = number + 1;
    END
  `.execute(db)
  await sql`DELETE FROM video_states`.execute(db)
}
