import { type Kysely, sql } from 'kysely'

/**
 * What a check examined as one immutable value, content for which papers hold, answers of the creator, and the states of videos, which
 * are stored until something that they rest on changes.
 */
export async function facts(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}

/** Forgets the states of some videos. The revision tells a state that was being decided meanwhile that it is too old to be kept. */
export function forgets(name: string, when: string, which: string): string {
  return `CREATE TRIGGER ${name} AFTER ${when} BEGIN
    DELETE FROM video_states ${which};
    UPDATE state_revision SET number = number + 1;
  END`
}

/** Videos in which a sound is heard, or one that is the same recording. */
function hearing(soundId: string): string {
  return `WHERE video_id IN (SELECT checks.video_id FROM detections JOIN checks ON checks.id = detections.check_id
    WHERE detections.sound_id = ${soundId} OR detections.sound_id IN (
      SELECT other.sound_id FROM recording_groups AS own JOIN recording_groups AS other ON other.group_id = own.group_id
      WHERE own.sound_id = ${soundId}))`
}

const grantOf = (row: 'new' | 'old'): string => hearing(`(SELECT sound_id FROM grants WHERE id = ${row}.grant_id)`)

const STATEMENTS = [
  `CREATE TABLE check_facts (
    sha256 TEXT PRIMARY KEY, check_id INTEGER NOT NULL REFERENCES checks(id) ON DELETE CASCADE, carries_on TEXT,
    place_count INTEGER NOT NULL, created_at TEXT NOT NULL, json TEXT NOT NULL
  ) STRICT`,
  `CREATE INDEX facts_carried_on ON check_facts (carries_on) WHERE carries_on IS NOT NULL`,
  `CREATE INDEX facts_of_check ON check_facts (check_id)`,
  `CREATE TRIGGER facts_never_change BEFORE UPDATE ON check_facts
    BEGIN SELECT RAISE(ABORT, 'the facts of a check are never changed'); END`,
  // The newest facts of a check; null for one that is not over, or is from before facts were written.
  `ALTER TABLE checks ADD COLUMN facts_sha256 TEXT`,
  // What the page draws of each track.
  `CREATE TABLE track_maps (
    check_id INTEGER NOT NULL REFERENCES checks(id) ON DELETE CASCADE, track_index INTEGER NOT NULL,
    momentary BLOB NOT NULL, waveform BLOB NOT NULL, PRIMARY KEY (check_id, track_index)
  ) STRICT`,
  `ALTER TABLE detections ADD COLUMN track_index INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE detections ADD COLUMN audio_sha256 TEXT NOT NULL DEFAULT ''`,
  `CREATE INDEX detections_of_sound ON detections (sound_id)`,
  `CREATE TABLE stored_tracks (
    export_id INTEGER NOT NULL REFERENCES exports(id) ON DELETE CASCADE, track_index INTEGER NOT NULL,
    version INTEGER NOT NULL, bytes BLOB NOT NULL, PRIMARY KEY (export_id, track_index)
  ) STRICT`,
  `INSERT INTO stored_tracks SELECT export_id, 0, version, bytes FROM kept_tracks`,
  `DROP TABLE kept_tracks`,
  // What is removed stays for a while, so that it can be brought back.
  `ALTER TABLE videos ADD COLUMN removed_at TEXT`,
  `ALTER TABLE exports ADD COLUMN removed_at TEXT`,
  `ALTER TABLE checks ADD COLUMN removed_at TEXT`,
  // The audio by which a sound was known before its file came, where that is the same recording.
  `ALTER TABLE grants ADD COLUMN heard_sha256 TEXT`,
  // Every change of the audio of a sound.
  `CREATE TABLE audio_changes (
    number INTEGER PRIMARY KEY AUTOINCREMENT, sound_id INTEGER NOT NULL, from_sha256 TEXT, to_sha256 TEXT, at TEXT NOT NULL
  ) STRICT`,
  `CREATE INDEX changes_of_sound ON audio_changes (sound_id)`,
  `INSERT INTO audio_changes (sound_id, from_sha256, to_sha256, at)
    SELECT sound_id, NULL, audio_sha256, strftime('%Y-%m-%dT%H:%M:%fZ', 'now') FROM analyses`,
  `CREATE TRIGGER audio_came AFTER INSERT ON analyses BEGIN
    INSERT INTO audio_changes (sound_id, from_sha256, to_sha256, at)
    VALUES (new.sound_id, NULL, new.audio_sha256, strftime('%Y-%m-%dT%H:%M:%fZ', 'now')); END`,
  `CREATE TRIGGER audio_changed AFTER UPDATE ON analyses
    WHEN old.audio_sha256 <> new.audio_sha256 OR old.feature_version <> new.feature_version BEGIN
    INSERT INTO audio_changes (sound_id, from_sha256, to_sha256, at)
    VALUES (new.sound_id, old.audio_sha256, new.audio_sha256, strftime('%Y-%m-%dT%H:%M:%fZ', 'now')); END`,
  `CREATE TRIGGER audio_went AFTER DELETE ON analyses BEGIN
    INSERT INTO audio_changes (sound_id, from_sha256, to_sha256, at)
    VALUES (old.sound_id, old.audio_sha256, NULL, strftime('%Y-%m-%dT%H:%M:%fZ', 'now')); END`,
  // What the creator put on record about a stretch, a track or a copy; undone answers stay.
  `CREATE TABLE point_answers (
    id INTEGER PRIMARY KEY, video_id INTEGER NOT NULL REFERENCES videos(id) ON DELETE CASCADE, point_kind TEXT NOT NULL,
    file_sha256 TEXT NOT NULL, track_index INTEGER, places_json TEXT NOT NULL, sound_ids_json TEXT NOT NULL,
    kind TEXT NOT NULL, from_sound_id INTEGER REFERENCES sounds(id), reason TEXT NOT NULL, by_name TEXT NOT NULL,
    at TEXT NOT NULL, undone_at TEXT
  ) STRICT`,
  `CREATE INDEX answers_of_video ON point_answers (video_id)`,
  // One selection of what is shown of a sound, and of the papers that count.
  `CREATE VIEW sound_rows AS SELECT sounds.id, coalesce(sounds.own_title, sounds.title) AS shown_title, sounds.title AS original_title,
    sounds.maker, sounds.source_id, sources.name AS source_name, sources.kind AS source_kind, sources.plan, sources.plan_from,
    sources.plan_until, sounds.terms_id, terms.title, terms.short_title, terms.version, terms.spdx_id, terms.url, terms.duration,
    terms.clauses_json, terms.sha256 AS terms_sha256, sounds.withdrawn_at
    FROM sounds JOIN sources ON sources.id = sounds.source_id JOIN terms ON terms.id = sounds.terms_id`,
  `CREATE VIEW active_grants AS SELECT * FROM grants WHERE taken_back_at IS NULL`,
  `CREATE TABLE video_states (
    video_id INTEGER PRIMARY KEY REFERENCES videos(id) ON DELETE CASCADE, day TEXT NOT NULL, state_json TEXT NOT NULL
  ) STRICT`,
  `CREATE TABLE state_revision (number INTEGER NOT NULL) STRICT`,
  `INSERT INTO state_revision VALUES (0)`,
  forgets('state_after_grant', 'INSERT ON grants', hearing('new.sound_id')),
  forgets('state_after_grant_change', 'UPDATE ON grants', hearing('new.sound_id')),
  forgets('state_after_record', 'INSERT ON grant_videos', grantOf('new')),
  forgets('state_after_record_end', 'DELETE ON grant_videos', grantOf('old')),
  forgets('state_after_evidence', 'INSERT ON evidence', grantOf('new')),
  forgets('state_after_evidence_end', 'DELETE ON evidence', grantOf('old')),
  forgets('state_after_maker', 'UPDATE OF maker, own_title, title ON sounds', hearing('new.id')),
  forgets('state_after_plan', 'UPDATE OF plan, plan_from, plan_until, kind ON sources', ''),
  forgets('state_after_group', 'INSERT ON recording_groups', ''),
  forgets('state_after_group_end', 'DELETE ON recording_groups', ''),
  forgets('state_after_audio', 'INSERT ON audio_changes', ''),
  forgets('state_after_uses', 'UPDATE ON videos', 'WHERE video_id = new.id'),
  forgets('state_after_check', 'INSERT ON checks', 'WHERE video_id = new.video_id'),
  forgets(
    'state_after_check_change',
    'UPDATE OF state, facts_sha256, removed_at ON checks',
    'WHERE video_id = new.video_id',
  ),
  forgets('state_after_check_end', 'DELETE ON checks', 'WHERE video_id = old.video_id'),
  forgets('state_after_file', 'INSERT ON exports', 'WHERE video_id = new.video_id'),
  forgets('state_after_file_change', 'UPDATE OF removed_at ON exports', 'WHERE video_id = new.video_id'),
  forgets('state_after_file_end', 'DELETE ON exports', 'WHERE video_id = old.video_id'),
  forgets('state_after_answer', 'INSERT ON point_answers', 'WHERE video_id = new.video_id'),
  forgets('state_after_answer_change', 'UPDATE ON point_answers', 'WHERE video_id = new.video_id'),
  `CREATE TRIGGER state_after_speech AFTER INSERT ON settings WHEN new.key = 'own-speech' BEGIN
    DELETE FROM video_states; UPDATE state_revision SET number = number + 1; END`,
  `CREATE TRIGGER state_after_speech_change AFTER UPDATE ON settings WHEN new.key = 'own-speech' BEGIN
    DELETE FROM video_states; UPDATE state_revision SET number = number + 1; END`,
  `CREATE TRIGGER state_after_speech_end AFTER DELETE ON settings WHEN old.key = 'own-speech' BEGIN
    DELETE FROM video_states; UPDATE state_revision SET number = number + 1; END`,
]
