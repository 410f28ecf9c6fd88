import { FEATURES_VERSION } from '../../core/hearing'

/** How many sounds of a source are offered, and how many of them were listened to. */
export interface SourceCounts {
  readonly id: string
  readonly sounds: number
  readonly listened: number
  /** Listened to in the way of today. */
  readonly current: number
}

/** Of each source. Goes over an index of all sounds, and over all that were listened to. */
export const COUNT_SOUNDS = `SELECT sources.id AS id,
  (SELECT count(*) FROM sounds WHERE source_id = sources.id AND generation <= sources.generation AND withdrawn_at IS NULL) AS sounds,
  coalesce(heard.listened, 0) AS listened, coalesce(heard.current, 0) AS current
  FROM sources LEFT JOIN (
    SELECT source_id, count(*) AS listened, sum(feature_version >= ${FEATURES_VERSION}) AS current
    FROM analyses JOIN sounds ON sounds.id = analyses.sound_id WHERE withdrawn_at IS NULL GROUP BY source_id
  ) AS heard ON heard.source_id = sources.id`
