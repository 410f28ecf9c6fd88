import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  // What comparing two recordings came to, by their audio: it is not done anew for each sound that is added. `piece` says which of the two lies in
  // the other ("one", "other" or "none"); null where that was not looked for.
  `CREATE TABLE recording_comparisons (
    one_sha256 TEXT NOT NULL, other_sha256 TEXT NOT NULL, version TEXT NOT NULL, likeness REAL NOT NULL,
    piece TEXT CHECK (piece IN ('one', 'other', 'none')), PRIMARY KEY (one_sha256, other_sha256)
  ) STRICT, WITHOUT ROWID`,
  // Whether stems add up to a whole; the stems in order, with commas between.
  `CREATE TABLE sum_comparisons (
    whole_sha256 TEXT NOT NULL, stem_sha256s TEXT NOT NULL, version TEXT NOT NULL, adds_up INTEGER NOT NULL,
    PRIMARY KEY (whole_sha256, stem_sha256s)
  ) STRICT, WITHOUT ROWID`,
]

/** Comparisons of recordings are remembered. */
export async function comparisons(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
