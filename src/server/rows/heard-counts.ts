import { sql } from 'kysely'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { latestDetections } from './latest-detections'

/**
 * In how many videos each sound is heard, by the newest check of each video; 0 is left out.
 *
 * @param ids Null for all sounds.
 */
export async function countHeard(db: Db, ids: readonly number[] | null): Promise<Map<number, number>> {
  if (ids?.length === 0) return new Map()
  const heard = ids ? latestDetections(db).where(isOneOf('detections.sound_id', ids)) : latestDetections(db)
  const rows = await heard
    .select(['detections.sound_id', sql<number>`count(DISTINCT videos.id)`.as('count')])
    .groupBy('detections.sound_id')
    .execute()
  return new Map(rows.map(({ sound_id, count }) => [sound_id, count]))
}
