import type { Db } from '../database/open'

/** Sounds that were heard in the newest finished check of each video, joined with check and video; the caller selects. */
export function latestDetections(db: Db) {
  return db
    .selectFrom('detections')
    .innerJoin('checks', 'checks.id', 'detections.check_id')
    .innerJoin('videos', 'videos.id', 'checks.video_id')
    .where('videos.removed_at', 'is', null)
    .where('checks.id', 'in', (eb) =>
      eb
        .selectFrom('checks')
        .innerJoin('exports', 'exports.id', 'checks.export_id')
        .select((one) => one.fn.max('checks.id').as('id'))
        .where('checks.removed_at', 'is', null)
        .where('exports.removed_at', 'is', null)
        .where('state', '=', 'done')
        .groupBy('checks.video_id'),
    )
}
