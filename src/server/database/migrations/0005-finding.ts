import { type Kysely, sql } from 'kysely'

/** What finding and the Shelf keep: what sounds sound like, what was kept and how it is ordered, and a log that the search follows. */
export async function finding(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}

/** Writes the changed sound down for the search. @param when Event and table. @param row The row of which `column` names the sound. */
function follows(name: string, when: string, row: 'new' | 'old', column: string): string {
  return `CREATE TRIGGER ${name} AFTER ${when} BEGIN INSERT INTO find_changes (sound_id) VALUES (${row}.${column}); END`
}

const STATEMENTS = [
  // The search has an index of its own.
  `DROP TRIGGER sounds_indexed`,
  `DROP TRIGGER sounds_reindexed`,
  `DROP TRIGGER sounds_unindexed`,
  `DROP TABLE sounds_fts`,
  `ALTER TABLE sounds ADD COLUMN added_at TEXT NOT NULL DEFAULT ''`,
  `UPDATE sounds SET added_at = updated_at`,
  // How often others took it, where its source tells.
  `ALTER TABLE sounds ADD COLUMN popularity INTEGER`,
  // The name that the creator gave it; the original one stays in "title".
  `ALTER TABLE sounds ADD COLUMN own_title TEXT`,
  `ALTER TABLE analyses ADD COLUMN channels INTEGER`,
  `ALTER TABLE analyses ADD COLUMN loops INTEGER`,
  `CREATE TABLE likeness (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, version INTEGER NOT NULL, vector BLOB NOT NULL,
    traits_json TEXT NOT NULL
  ) STRICT`,
  // Sounds that are looked for by likeness and are none of the catalogue: files, and parts of sounds and videos.
  `CREATE TABLE probes (
    id INTEGER PRIMARY KEY, title TEXT NOT NULL, vector BLOB NOT NULL, traits_json TEXT NOT NULL, created_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE keeps (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, note TEXT NOT NULL, kept_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE collections (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, position REAL NOT NULL) STRICT`,
  `CREATE TABLE collection_sounds (
    collection_id INTEGER NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
    sound_id INTEGER NOT NULL REFERENCES keeps(sound_id) ON DELETE CASCADE, position REAL NOT NULL,
    PRIMARY KEY (collection_id, sound_id)
  ) STRICT`,
  // Words at which a kept sound is offered first.
  `CREATE TABLE habits (
    sound_id INTEGER NOT NULL REFERENCES keeps(sound_id) ON DELETE CASCADE, words TEXT NOT NULL, PRIMARY KEY (sound_id, words)
  ) STRICT`,
  `CREATE TABLE saved_searches (id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE, query TEXT NOT NULL, sort TEXT NOT NULL, at TEXT NOT NULL) STRICT`,
  `CREATE TABLE captions (
    video_id INTEGER PRIMARY KEY REFERENCES videos(id) ON DELETE CASCADE, file_name TEXT NOT NULL, cues_json TEXT NOT NULL,
    at TEXT NOT NULL
  ) STRICT`,
  // Several sounds that are acquired as one job; for what is sold, the tier and the price that was agreed to.
  `CREATE TABLE batches (id INTEGER PRIMARY KEY, video_id INTEGER REFERENCES videos(id) ON DELETE SET NULL, created_at TEXT NOT NULL) STRICT`,
  `CREATE TABLE batch_items (
    batch_id INTEGER NOT NULL REFERENCES batches(id) ON DELETE CASCADE, position INTEGER NOT NULL,
    sound_id INTEGER NOT NULL REFERENCES sounds(id), tier TEXT, price_minor INTEGER NOT NULL, order_id INTEGER,
    state TEXT NOT NULL, message TEXT NOT NULL, PRIMARY KEY (batch_id, position)
  ) STRICT`,
  `CREATE TABLE find_changes (number INTEGER PRIMARY KEY AUTOINCREMENT, sound_id INTEGER NOT NULL) STRICT`,
  follows('follow_sound', 'INSERT ON sounds', 'new', 'id'),
  follows('follow_sound_change', 'UPDATE ON sounds', 'new', 'id'),
  follows('follow_sound_end', 'DELETE ON sounds', 'old', 'id'),
  follows('follow_tier', 'INSERT ON sound_tiers', 'new', 'sound_id'),
  follows('follow_analysis', 'INSERT ON analyses', 'new', 'sound_id'),
  follows('follow_analysis_change', 'UPDATE ON analyses', 'new', 'sound_id'),
  follows('follow_likeness', 'INSERT ON likeness', 'new', 'sound_id'),
  follows('follow_likeness_change', 'UPDATE ON likeness', 'new', 'sound_id'),
  follows('follow_grant', 'INSERT ON grants', 'new', 'sound_id'),
  follows('follow_grant_change', 'UPDATE ON grants', 'new', 'sound_id'),
  follows('follow_keep', 'INSERT ON keeps', 'new', 'sound_id'),
  follows('follow_unkeep', 'DELETE ON keeps', 'old', 'sound_id'),
  follows('follow_habit', 'INSERT ON habits', 'new', 'sound_id'),
  follows('follow_habit_end', 'DELETE ON habits', 'old', 'sound_id'),
  follows('follow_heard', 'INSERT ON detections', 'new', 'sound_id'),
  follows('follow_unheard', 'DELETE ON detections', 'old', 'sound_id'),
]
