import { type Kysely, sql } from 'kysely'
import { forgets } from './0007-facts'

/** Sounds that were placed in a video when it was checked: its state rests on the papers of these too, heard or not. */
export async function placed(db: Kysely<unknown>): Promise<void> {
  await sql`CREATE TABLE placed_in_checks (
    check_id INTEGER NOT NULL REFERENCES checks(id) ON DELETE CASCADE, sound_id INTEGER NOT NULL,
    PRIMARY KEY (check_id, sound_id)
  ) STRICT`.execute(db)
  await sql`CREATE INDEX placed_of_sound ON placed_in_checks (sound_id)`.execute(db)
  for (const [name, when, soundId] of [
    ['grant', 'INSERT ON grants', 'new.sound_id'],
    ['grant_change', 'UPDATE ON grants', 'new.sound_id'],
    ['record', 'INSERT ON grant_videos', ofGrant('new')],
    ['record_end', 'DELETE ON grant_videos', ofGrant('old')],
    ['evidence', 'INSERT ON evidence', ofGrant('new')],
    ['evidence_end', 'DELETE ON evidence', ofGrant('old')],
    ['maker', 'UPDATE OF maker, own_title, title ON sounds', 'new.id'],
  ] as const)
    await sql.raw(forgets(`placed_state_after_${name}`, when, placing(soundId))).execute(db)
}

const ofGrant = (row: 'new' | 'old'): string => `(SELECT sound_id FROM grants WHERE id = ${row}.grant_id)`

/** Videos in which a sound was placed. */
function placing(soundId: string): string {
  return `WHERE video_id IN (SELECT checks.video_id FROM placed_in_checks JOIN checks ON checks.id = placed_in_checks.check_id
    WHERE placed_in_checks.sound_id = ${soundId})`
}
