import { type Kysely, sql } from 'kysely'

/** Tiers and orders, folders and files from elsewhere, plan periods, evidence, and catalogues that are read in pieces. */
export async function papers(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}

const STATEMENTS = [
  // "library", "folder" or "elsewhere".
  `ALTER TABLE sources ADD COLUMN kind TEXT NOT NULL DEFAULT 'library'`,
  `ALTER TABLE sources ADD COLUMN folder_path TEXT`,
  // Terms that every new file of a folder is taken to come under, since the creator said so.
  `ALTER TABLE sources ADD COLUMN default_terms_id INTEGER REFERENCES terms(id)`,
  `ALTER TABLE sources ADD COLUMN change_mark TEXT`,
  // When the whole catalogue was last read: a feed of changes is not trusted for ever.
  `ALTER TABLE sources ADD COLUMN whole_at TEXT`,
  // Size of a catalogue that was refused since it had shrunk too much; the same size a second time is believed.
  `ALTER TABLE sources ADD COLUMN shrunk_to INTEGER`,
  `ALTER TABLE sources ADD COLUMN last_result TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE sounds ADD COLUMN kind TEXT NOT NULL DEFAULT 'effect'`,
  `ALTER TABLE sounds ADD COLUMN tempo_bpm REAL`,
  `ALTER TABLE sounds ADD COLUMN mood TEXT`,
  `ALTER TABLE sounds ADD COLUMN vocals INTEGER`,
  `CREATE TABLE sound_tiers (
    sound_id INTEGER NOT NULL REFERENCES sounds(id) ON DELETE CASCADE, key TEXT NOT NULL, position INTEGER NOT NULL,
    title TEXT NOT NULL, price_minor INTEGER NOT NULL, currency TEXT NOT NULL, terms_id INTEGER NOT NULL REFERENCES terms(id),
    PRIMARY KEY (sound_id, key)
  ) STRICT`,
  `CREATE TABLE orders (
    id INTEGER PRIMARY KEY, order_key TEXT NOT NULL UNIQUE, sound_id INTEGER NOT NULL REFERENCES sounds(id), tier TEXT NOT NULL,
    price_minor INTEGER NOT NULL, currency TEXT NOT NULL, video_id INTEGER REFERENCES videos(id) ON DELETE SET NULL,
    state TEXT NOT NULL, order_ref TEXT, created_at TEXT NOT NULL
  ) STRICT`,
  // The same thing is not ordered a second time while the first order is under way.
  `CREATE UNIQUE INDEX one_open_order ON orders (sound_id, tier, ifnull(video_id, 0)) WHERE state = 'open'`,
  `ALTER TABLE grants ADD COLUMN kind TEXT NOT NULL DEFAULT 'library'`,
  `ALTER TABLE grants ADD COLUMN tier TEXT`,
  `ALTER TABLE grants ADD COLUMN paid_minor INTEGER`,
  `ALTER TABLE grants ADD COLUMN paid_currency TEXT`,
  `ALTER TABLE grants ADD COLUMN original_name TEXT`,
  // Hash of the file as it came; the copy itself carries tags.
  `ALTER TABLE grants ADD COLUMN served_sha256 TEXT`,
  `ALTER TABLE grants ADD COLUMN acquisition_id TEXT NOT NULL DEFAULT ''`,
  // Set when the creator took a declaration back; the row and its entries stay.
  `ALTER TABLE grants ADD COLUMN taken_back_at TEXT`,
  // What the creator put on record of a grant for one video: that it is for this video, or that a duty was met.
  `CREATE TABLE grant_videos (
    grant_id INTEGER NOT NULL REFERENCES grants(id), video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE,
    key TEXT NOT NULL, note TEXT NOT NULL, at TEXT NOT NULL, PRIMARY KEY (grant_id, video_id, key)
  ) STRICT`,
  `CREATE TABLE evidence (
    id INTEGER PRIMARY KEY, grant_id INTEGER NOT NULL REFERENCES grants(id), sha256 TEXT NOT NULL, file_name TEXT NOT NULL,
    mime TEXT NOT NULL, size_bytes INTEGER NOT NULL, added_at TEXT NOT NULL, UNIQUE (grant_id, sha256)
  ) STRICT`,
  `CREATE TABLE plan_periods (
    id INTEGER PRIMARY KEY, source_id TEXT NOT NULL REFERENCES sources(id), plan TEXT NOT NULL, plan_from TEXT, plan_until TEXT,
    seen_at TEXT NOT NULL
  ) STRICT`,
  `INSERT INTO plan_periods (source_id, plan, plan_from, plan_until, seen_at)
    SELECT id, plan, plan_from, plan_until, coalesce(last_sync_at, '') FROM sources WHERE plan <> ''`,
  // Pages of a catalogue that is being read: what was read stays read when the reading breaks off.
  `CREATE TABLE catalogue_stage (
    source_id TEXT NOT NULL REFERENCES sources(id), position INTEGER NOT NULL, next TEXT, total INTEGER,
    sounds_json TEXT NOT NULL, read_at TEXT NOT NULL, PRIMARY KEY (source_id, position)
  ) STRICT`,
  `CREATE TABLE folder_files (
    source_id TEXT NOT NULL REFERENCES sources(id) ON DELETE CASCADE, path TEXT NOT NULL, size_bytes INTEGER NOT NULL,
    modified_ms INTEGER NOT NULL, sha256 TEXT NOT NULL, sound_id INTEGER NOT NULL REFERENCES sounds(id),
    PRIMARY KEY (source_id, path)
  ) STRICT`,
  // Texts that lay beside files of a folder and speak of rights; the creator accepts them, or does not.
  `CREATE TABLE papers_proposals (
    id INTEGER PRIMARY KEY, source_id TEXT NOT NULL REFERENCES sources(id) ON DELETE CASCADE, path TEXT NOT NULL,
    text TEXT NOT NULL, sha256 TEXT NOT NULL, reading_json TEXT NOT NULL, state TEXT NOT NULL, at TEXT NOT NULL,
    UNIQUE (source_id, path, sha256)
  ) STRICT`,
  `CREATE TABLE notices_seen (key TEXT PRIMARY KEY, at TEXT NOT NULL) STRICT`,
]
