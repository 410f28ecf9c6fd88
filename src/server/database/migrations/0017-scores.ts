import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  `CREATE TABLE scores (
    video_id INTEGER PRIMARY KEY REFERENCES videos(id) ON DELETE CASCADE,
    revision INTEGER NOT NULL, document_json TEXT NOT NULL, changed_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE mixes (
    id INTEGER PRIMARY KEY, video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE,
    revision INTEGER NOT NULL, document_json TEXT NOT NULL, with_stems INTEGER NOT NULL,
    state TEXT NOT NULL, message TEXT NOT NULL DEFAULT '', created_at TEXT NOT NULL,
    result_json TEXT
  ) STRICT`,
  `CREATE INDEX mixes_of_video ON mixes (video_id, id)`,
  `CREATE TABLE mix_files (
    mix_id INTEGER NOT NULL REFERENCES mixes(id) ON DELETE CASCADE, position INTEGER NOT NULL,
    name TEXT NOT NULL, sha256 TEXT NOT NULL, size_bytes INTEGER NOT NULL, PRIMARY KEY (mix_id, position)
  ) STRICT`,
]

/** What is placed in videos, and the mixes that were written of it. */
export async function scores(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
