import { type Kysely, sql } from 'kysely'

/** Unanswered words beside a file bear on what was declared of it: the states of videos rest on them. */
export async function wordsBeside(db: Kysely<unknown>): Promise<void> {
  for (const when of ['INSERT', 'UPDATE OF state, reading_json', 'DELETE'])
    await sql
      .raw(
        `CREATE TRIGGER state_after_words_${when.slice(0, 6).toLowerCase()} AFTER ${when} ON papers_proposals BEGIN
          DELETE FROM video_states;
          UPDATE state_revision SET number = number + 1;
        END`,
      )
      .execute(db)
  await sql`CREATE INDEX open_words ON papers_proposals (source_id) WHERE state = 'open'`.execute(db)
  await sql`CREATE INDEX files_of_sound ON folder_files (sound_id)`.execute(db)
}
