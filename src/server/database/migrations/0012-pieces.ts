import { type Kysely, sql } from 'kysely'

/** Sounds that lie in a longer one: another recording, so nothing is decided by it. */
export async function pieces(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE TABLE recording_pieces (
    whole_id INTEGER NOT NULL REFERENCES sounds(id) ON DELETE CASCADE,
    piece_id INTEGER NOT NULL REFERENCES sounds(id) ON DELETE CASCADE, PRIMARY KEY (whole_id, piece_id)
  ) STRICT`.execute(db)
  await sql`CREATE INDEX wholes_of_piece ON recording_pieces (piece_id)`.execute(db)
}
