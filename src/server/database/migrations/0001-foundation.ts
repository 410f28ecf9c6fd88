import { type Kysely, sql } from 'kysely'
import type { Schema } from '../schema'

/** The first schema: sources and terms, sounds with full-text index, copies and papers, videos and checks, jobs. */
export async function foundation(db: Kysely<Schema>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}

const STATEMENTS = [
  `CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT`,
  `CREATE TABLE sources (
    id TEXT PRIMARY KEY, name TEXT NOT NULL, about TEXT NOT NULL, connected INTEGER NOT NULL DEFAULT 0,
    plan TEXT NOT NULL DEFAULT '', plan_from TEXT, plan_until TEXT, last_sync_at TEXT, last_error TEXT
  ) STRICT`,
  `CREATE TABLE terms (
    id INTEGER PRIMARY KEY, source_id TEXT NOT NULL REFERENCES sources(id), key TEXT NOT NULL, version TEXT NOT NULL,
    title TEXT NOT NULL, short_title TEXT NOT NULL, spdx_id TEXT, url TEXT, text TEXT NOT NULL, sha256 TEXT NOT NULL,
    duration TEXT NOT NULL, clauses_json TEXT NOT NULL, seen_at TEXT NOT NULL,
    UNIQUE (source_id, key, version, sha256)
  ) STRICT`,
  `CREATE TRIGGER terms_are_immutable BEFORE UPDATE ON terms BEGIN SELECT RAISE(ABORT, 'terms are immutable'); END`,
  `CREATE TABLE sounds (
    id INTEGER PRIMARY KEY, source_id TEXT NOT NULL REFERENCES sources(id), external_id TEXT NOT NULL,
    title TEXT NOT NULL, maker TEXT NOT NULL, description TEXT NOT NULL, tags_json TEXT NOT NULL,
    category TEXT NOT NULL, duration_s REAL NOT NULL, formats_json TEXT NOT NULL, cost TEXT NOT NULL,
    page_url TEXT, preview_ref TEXT NOT NULL, terms_id INTEGER NOT NULL REFERENCES terms(id),
    withdrawn_at TEXT, updated_at TEXT NOT NULL,
    UNIQUE (source_id, external_id)
  ) STRICT`,
  `CREATE VIRTUAL TABLE sounds_fts USING fts5(
    title, tags, category, maker, description, content='', contentless_delete=1,
    tokenize="unicode61 remove_diacritics 2", prefix='1 2 3'
  )`,
  `CREATE TRIGGER sounds_indexed AFTER INSERT ON sounds BEGIN
    INSERT INTO sounds_fts (rowid, title, tags, category, maker, description)
    VALUES (new.id, new.title, new.tags_json, new.category, new.maker, new.description);
  END`,
  `CREATE TRIGGER sounds_reindexed AFTER UPDATE OF title, tags_json, category, maker, description ON sounds BEGIN
    DELETE FROM sounds_fts WHERE rowid = old.id;
    INSERT INTO sounds_fts (rowid, title, tags, category, maker, description)
    VALUES (new.id, new.title, new.tags_json, new.category, new.maker, new.description);
  END`,
  `CREATE TRIGGER sounds_unindexed AFTER DELETE ON sounds BEGIN
    DELETE FROM sounds_fts WHERE rowid = old.id;
  END`,
  `CREATE TABLE analyses (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, audio_sha256 TEXT NOT NULL,
    audio_mime TEXT NOT NULL, print_column_s REAL NOT NULL, print_levels BLOB NOT NULL, loudness_lufs REAL,
    hit_s REAL, duration_s REAL NOT NULL, feature_version INTEGER NOT NULL
  ) STRICT`,
  `CREATE TABLE analysis_failures (
    sound_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, reason TEXT NOT NULL, at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE copies (
    sha256 TEXT PRIMARY KEY, size_bytes INTEGER NOT NULL, mime TEXT NOT NULL, file_name TEXT NOT NULL,
    created_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE grants (
    id INTEGER PRIMARY KEY, sound_id INTEGER NOT NULL REFERENCES sounds(id),
    copy_sha256 TEXT NOT NULL REFERENCES copies(sha256), terms_id INTEGER NOT NULL REFERENCES terms(id),
    title TEXT NOT NULL, plan_from TEXT, plan_until TEXT, order_ref TEXT NOT NULL, licensee TEXT NOT NULL,
    credit_line TEXT, acquired_at TEXT NOT NULL
  ) STRICT`,
  `CREATE UNIQUE INDEX one_grant_an_order ON grants (sound_id, order_ref)`,
  `CREATE TABLE videos (
    id INTEGER PRIMARY KEY, title TEXT NOT NULL, uses_json TEXT NOT NULL, created_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE exports (
    id INTEGER PRIMARY KEY, video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE, sha256 TEXT NOT NULL,
    size_bytes INTEGER NOT NULL, file_name TEXT NOT NULL, mime TEXT NOT NULL, created_at TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE checks (
    id INTEGER PRIMARY KEY, video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE,
    export_id INTEGER NOT NULL REFERENCES exports(id) ON DELETE CASCADE, state TEXT NOT NULL, message TEXT NOT NULL,
    created_at TEXT NOT NULL, finished_at TEXT, has_picture INTEGER NOT NULL DEFAULT 0, duration_s REAL,
    integrated_lufs REAL, true_peak_dbtp REAL, momentary BLOB, waveform BLOB,
    listened_for INTEGER NOT NULL DEFAULT 0, not_examined_json TEXT NOT NULL DEFAULT '[]'
  ) STRICT`,
  `CREATE INDEX checks_of_video ON checks (video_id, id)`,
  `CREATE TABLE detections (
    id INTEGER PRIMARY KEY, check_id INTEGER NOT NULL REFERENCES checks(id) ON DELETE CASCADE,
    sound_id INTEGER NOT NULL REFERENCES sounds(id), start_s REAL NOT NULL, end_s REAL NOT NULL,
    from_s REAL NOT NULL, to_s REAL NOT NULL, gain_db REAL NOT NULL, confidence REAL NOT NULL
  ) STRICT`,
  `CREATE INDEX detections_of_check ON detections (check_id)`,
  `CREATE TABLE jobs (
    id INTEGER PRIMARY KEY, kind TEXT NOT NULL, subject TEXT NOT NULL, title TEXT NOT NULL, state TEXT NOT NULL,
    progress_fraction REAL NOT NULL DEFAULT 0, message TEXT NOT NULL DEFAULT '', attempts INTEGER NOT NULL DEFAULT 0,
    created_at TEXT NOT NULL, finished_at TEXT
  ) STRICT`,
  // One job at a time for one thing: this is what keeps work from being done twice.
  `CREATE UNIQUE INDEX one_open_job ON jobs (kind, subject) WHERE state IN ('queued', 'running')`,
]
