import { type Kysely, sql } from 'kysely'

/** Pages of a catalogue are put down packed. What was put down before is read again. */
export async function packedStage(db: Kysely<unknown>): Promise<void> {
  await sql`DROP TABLE catalogue_stage`.execute(db)
  await sql`CREATE TABLE catalogue_stage (
    source_id TEXT NOT NULL REFERENCES sources(id), position INTEGER NOT NULL, next TEXT, total INTEGER,
    sounds_packed BLOB NOT NULL, read_at TEXT NOT NULL, PRIMARY KEY (source_id, position)
  ) STRICT`.execute(db)
  await sql`DELETE FROM catalogue_seen`.execute(db)
}
