import { type Kysely, sql } from 'kysely'
import { application as messages } from '../../../messages/server/application'

/**
 * What stems add up to was found too easily, without the quietest of them or with one that nobody had listened to: it is forgotten, looked for anew, and what
 * rested on it is decided anew.
 */
export async function sumsAnew(db: Kysely<unknown>): Promise<void> {
  await sql`
    INSERT OR IGNORE INTO jobs (kind, subject, title, state, created_at)
    SELECT 'group', 'all', ${messages.comparingRecordings}, 'queued', strftime('%Y-%m-%dT%H:%M:%fZ', 'now')
    WHERE EXISTS (SELECT 1 FROM recording_sums)
  `.execute(db)
  await sql`DELETE FROM recording_sums`.execute(db)
  await sql`DELETE FROM sum_comparisons`.execute(db)
  await sql`DELETE FROM video_states`.execute(db)
}
