import { sql } from 'kysely'
import { withdraw } from '../catalogue/withdraw-sounds'
import type { Db } from '../database/db'

/** What a library answered is kept so long after it was last among its answers, ms. */
export const SEEN_KEPT_MS = 30 * 24 * 3600_000
const AT_ONCE = 1000

/**
 * Takes sounds out of the search that a searched library has not answered for a month, unless they are kept, used, bought, heard in a video or named in
 * its moments or its mix. Their rows stay; among answers once more, they are back.
 *
 * @returns How many went.
 */
export async function forgetLongUnseen(db: Db, nowMs: number): Promise<number> {
  const before = new Date(nowMs - SEEN_KEPT_MS).toISOString()
  let gone = 0
  for (;;) {
    const { rows } = await sql<{
      id: number
    }>`SELECT sounds.id FROM live_seen JOIN sounds ON sounds.id = live_seen.sound_id
      WHERE live_seen.seen_at < ${before} AND sounds.withdrawn_at IS NULL
      AND NOT EXISTS (SELECT 1 FROM keeps WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM grants WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM orders WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM basket WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM collection_sounds WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM habits WHERE sound_id = sounds.id)
      AND NOT EXISTS (SELECT 1 FROM detections WHERE sound_id = sounds.id)
      AND sounds.id NOT IN (
        SELECT atom FROM moment_documents, json_tree(document_json) AS part WHERE part.key = 'soundId' AND part.type = 'integer'
        UNION SELECT atom FROM scores, json_tree(document_json) AS part WHERE part.key = 'soundId' AND part.type = 'integer'
      ) LIMIT ${AT_ONCE}`.execute(db)
    if (rows.length === 0) return gone
    gone += rows.length
    await withdraw(
      db,
      rows.map(({ id }) => id),
    )
  }
}
