import { type Kysely, sql } from 'kysely'

/** Words and a category that the creator gave a sound of their own, and what its file said, to which they are added. */
export async function ownWords(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE TABLE own_words (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, words_json TEXT NOT NULL, category TEXT,
    file_tags_json TEXT NOT NULL, file_category TEXT NOT NULL
  ) STRICT`.execute(db)
}
