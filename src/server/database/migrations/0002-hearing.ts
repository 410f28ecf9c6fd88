import { type Kysely, sql } from 'kysely'

/** What hearing tells of each place, how a check accounts for its track, and what lets it go on after a restart. */
export async function hearing(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}

const STATEMENTS = [
  `ALTER TABLE detections ADD COLUMN speed REAL NOT NULL DEFAULT 1`,
  `ALTER TABLE detections ADD COLUMN treatment TEXT NOT NULL DEFAULT 'as-is'`,
  `ALTER TABLE detections ADD COLUMN cutoff_hz REAL`,
  `ALTER TABLE detections ADD COLUMN balance REAL NOT NULL DEFAULT 0`,
  `ALTER TABLE detections ADD COLUMN fade_in_s REAL NOT NULL DEFAULT 0`,
  `ALTER TABLE detections ADD COLUMN fade_out_s REAL NOT NULL DEFAULT 0`,
  // Sounds that answered alike at the place, as a JSON array of their numbers.
  `ALTER TABLE detections ADD COLUMN alternatives_json TEXT NOT NULL DEFAULT '[]'`,
  `ALTER TABLE checks ADD COLUMN decoy_count INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE checks ADD COLUMN decoy_finds INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE checks ADD COLUMN loudness_range_lu REAL`,
  `ALTER TABLE checks ADD COLUMN short_term_max_lufs REAL`,
  // Segments, unexplained events and shares of the track; null for a check from before they were stored.
  `ALTER TABLE checks ADD COLUMN account_json TEXT`,
  // For each sound that was not heard, from which level it would have been.
  `ALTER TABLE checks ADD COLUMN sensitivity_json TEXT NOT NULL DEFAULT '[]'`,
  `CREATE TABLE check_stages (
    check_id INTEGER NOT NULL REFERENCES checks(id) ON DELETE CASCADE, key TEXT NOT NULL, result_json TEXT NOT NULL,
    PRIMARY KEY (check_id, key)
  ) STRICT`,
  `CREATE TABLE kept_tracks (
    export_id INTEGER PRIMARY KEY REFERENCES exports(id) ON DELETE CASCADE, version INTEGER NOT NULL, bytes BLOB NOT NULL
  ) STRICT`,
  // Sounds that are the same recording share a group; a sound that stands alone has no row.
  `CREATE TABLE recording_groups (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, group_id INTEGER NOT NULL
  ) STRICT`,
  `CREATE INDEX sounds_of_recording ON recording_groups (group_id)`,
]
