import { sql } from 'kysely'
import { heardNow } from '../checks/heard-now'
import type { Db } from '../database/open'

/** In how many videos each of some sounds is heard, by the newest check of each video; 0 is left out. */
export async function heardCounts(db: Db, ids: readonly number[]): Promise<Map<number, number>> {
  if (ids.length === 0) return new Map()
  const rows = await heardNow(db)
    .select(['detections.sound_id', sql<number>`count(DISTINCT videos.id)`.as('count')])
    .where('detections.sound_id', 'in', [...ids])
    .groupBy('detections.sound_id')
    .execute()
  return new Map(rows.map(({ sound_id, count }) => [sound_id, count]))
}
