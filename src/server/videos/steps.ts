import { sql } from 'kysely'
import type { VideoOverview, VideoStepFacts } from '../../contract'
import { videos as messages } from '../../messages/server/videos'
import type { Services } from '../context'
import { notFound } from '../domain-error'

/** How far a video is in its first steps. @throws {DomainError} not-found. */
export async function loadStepFacts({ db }: Pick<Services, 'db'>, videoId: number): Promise<VideoStepFacts> {
  const [row] = await loadRows(db, videoId)
  if (!row) throw notFound(messages.thisVideo)
  return stepFacts(row)
}

/** What a list of videos shows of each besides its state. */
export async function loadOverviews({ db }: Pick<Services, 'db'>): Promise<VideoOverview[]> {
  return (await loadRows(db, null)).map((row) => ({
    ...stepFacts(row),
    id: row.id,
    lengthS: row.film_s ?? row.cut_s,
    hasCutPicture: row.pictured > 0,
    filmId: row.film_id,
  }))
}

interface Row {
  readonly id: number
  readonly moments: number
  readonly settled: number
  readonly placed: number
  readonly cuts: number
  readonly pictured: number
  readonly cut_s: number | null
  readonly film_s: number | null
  readonly film_id: number | null
}

/** Counted by the database: what is noted and placed may be long. */
async function loadRows(db: Services['db'], videoId: number | null): Promise<readonly Row[]> {
  const { rows } = await sql<Row>`SELECT id,
    (SELECT count(*) FROM moment_documents, json_each(document_json, '$.moments')
      WHERE video_id = videos.id) AS moments,
    (SELECT count(*) FROM moment_documents, json_each(document_json, '$.moments') AS one
      WHERE video_id = videos.id AND (one.value ->> 'soundId' IS NOT NULL OR one.value ->> 'kind' = 'silence')) AS settled,
    (SELECT count(DISTINCT coalesce(value ->> '$.bed.id', value ->> '$.id'))
      FROM scores, json_each(document_json, '$.placements') WHERE video_id = videos.id) AS placed,
    (SELECT count(*) FROM cuts WHERE video_id = videos.id AND state = 'done' AND removed_at IS NULL) AS cuts,
    (SELECT count(*) FROM cuts
      WHERE video_id = videos.id AND state = 'done' AND removed_at IS NULL AND strip_sha256 IS NOT NULL) AS pictured,
    (SELECT sound_json ->> 'durationS' FROM cuts
      WHERE video_id = videos.id AND state = 'done' AND removed_at IS NULL ORDER BY id DESC LIMIT 1) AS cut_s,
    (SELECT duration_s FROM checks JOIN exports ON exports.id = export_id
      WHERE checks.video_id = videos.id AND checks.removed_at IS NULL AND exports.removed_at IS NULL AND duration_s IS NOT NULL
      ORDER BY checks.id DESC LIMIT 1) AS film_s,
    (SELECT export_id FROM checks JOIN exports ON exports.id = export_id
      WHERE checks.video_id = videos.id AND checks.removed_at IS NULL AND exports.removed_at IS NULL AND has_picture = 1
      ORDER BY checks.id DESC LIMIT 1) AS film_id
    FROM videos WHERE removed_at IS NULL AND (${videoId} IS NULL OR id = ${videoId}) ORDER BY id DESC`.execute(db)
  return rows
}

function stepFacts({ moments, settled, placed, cuts }: Row): VideoStepFacts {
  return { momentCount: moments, settledCount: settled, placedCount: placed, hasCut: cuts > 0 }
}
