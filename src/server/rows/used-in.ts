import type { UsedIn } from '../../contract'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { latestDetections } from './latest-detections'

/** Where each of some sounds is heard, by the newest check of each video; sounds that are heard nowhere are left out. */
export async function loadUsedIn(db: Db, ids: readonly number[]): Promise<Map<number, UsedIn[]>> {
  const rows = await latestDetections(db)
    .select(['detections.sound_id', 'detections.start_s', 'videos.id', 'videos.title'])
    .where(isOneOf('detections.sound_id', ids))
    .orderBy('videos.id')
    .orderBy('detections.start_s')
    .execute()
  const used = new Map<number, UsedIn[]>()
  for (const { sound_id, start_s, id, title } of rows) {
    const videos = used.get(sound_id) ?? []
    const last = videos.at(-1)
    if (last?.videoId === id) last.timesS.push(start_s)
    else videos.push({ videoId: id, title, timesS: [start_s] })
    used.set(sound_id, videos)
  }
  return used
}
