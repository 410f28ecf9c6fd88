import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  `CREATE TABLE cuts (
    id INTEGER PRIMARY KEY, video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE,
    sha256 TEXT NOT NULL, size_bytes INTEGER NOT NULL, file_name TEXT NOT NULL, mime TEXT NOT NULL, created_at TEXT NOT NULL,
    removed_at TEXT, state TEXT NOT NULL, message TEXT NOT NULL DEFAULT '',
    has_picture INTEGER NOT NULL DEFAULT 0, sound_json TEXT, picture_json TEXT, carried_json TEXT,
    peaks_sha256 TEXT, sketch_sha256 TEXT, strip_sha256 TEXT, frames_sha256 TEXT
  ) STRICT`,
  `CREATE INDEX cuts_of_video ON cuts (video_id, id)`,
  `CREATE TABLE moment_documents (
    video_id INTEGER PRIMARY KEY REFERENCES videos(id) ON DELETE CASCADE,
    revision INTEGER NOT NULL, document_json TEXT NOT NULL, cut_id INTEGER REFERENCES cuts(id) ON DELETE SET NULL, changed_at TEXT NOT NULL
  ) STRICT`,
]

/** Rough cuts, and what is planned for them. */
export async function moments(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
