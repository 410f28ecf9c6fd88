import { type Kysely, sql } from 'kysely'

/**
 * That the states of videos rest on what is listed, heard or not: on syncs that end or fail, on sources that are paused, removed and brought back, on
 * the first reading of a source, and on sounds whose audio cannot be had.
 */
export async function listed(db: Kysely<unknown>): Promise<void> {
  for (const [name, when] of [
    [
      'state_after_sync',
      'UPDATE OF last_sync_at, last_error, whole_at, connected, generation, paused_at, removed_at ON sources',
    ],
    ['state_after_source_end', 'DELETE ON sources'],
    ['state_after_reading_begins', "INSERT ON jobs WHEN new.kind IN ('mirror', 'scan')"],
    ['state_after_failure', 'INSERT ON analysis_failures'],
  ] as const)
    await sql
      .raw(`CREATE TRIGGER ${name} AFTER ${when} BEGIN
        DELETE FROM video_states; UPDATE state_revision SET number = number + 1; END`)
      .execute(db)
  await sql`DELETE FROM video_states`.execute(db)
}
