import { type Kysely, sql } from 'kysely'
import { forgets } from './0007-facts'

const IS_UNREAD = 'last_sync_at IS NULL'

/**
 * That the states of videos rest on what is listed, heard or not: on the first reading of a source, on what a sync shows or takes out, on sources that are
 * paused, removed and brought back, and on sounds whose audio cannot be had.
 */
export async function listed(db: Kysely<unknown>): Promise<void> {
  for (const [name, when] of [
    [
      'state_after_sync',
      `UPDATE OF last_sync_at, last_error, whole_at, connected, generation, paused_at, removed_at ON sources
        WHEN old.${IS_UNREAD} OR old.connected <> new.connected
          OR (old.generation <> new.generation
            AND EXISTS (SELECT 1 FROM sounds WHERE source_id = new.id AND generation = new.generation))
          OR old.paused_at IS NOT new.paused_at OR old.removed_at IS NOT new.removed_at`,
    ],
    ['state_after_source_end', 'DELETE ON sources'],
    [
      'state_after_reading_begins',
      `INSERT ON jobs WHEN new.kind IN ('mirror', 'scan') AND new.subject IN (SELECT id FROM sources WHERE ${IS_UNREAD})`,
    ],
    ['state_after_failure', 'INSERT ON analysis_failures'],
    ['state_after_withdrawal', 'UPDATE OF withdrawn_at ON sounds WHEN old.withdrawn_at IS NOT new.withdrawn_at'],
  ] as const)
    await sql.raw(forgets(name, when, '')).execute(db)
  await sql`DELETE FROM video_states`.execute(db)
}
