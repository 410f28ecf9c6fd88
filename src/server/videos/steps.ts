import { sql } from 'kysely'
import type { VideoStepFacts } from '../../contract'
import type { Services } from '../context'
import { getVideoRow } from '../rows/video-rows'

/** How far a video is in its first steps, counted by the database: what is noted and placed may be long. @throws {DomainError} not-found. */
export async function loadStepFacts({ db }: Pick<Services, 'db'>, videoId: number): Promise<VideoStepFacts> {
  await getVideoRow(db, videoId)
  const { rows } = await sql<{ moments: number; settled: number; placed: number; cuts: number }>`SELECT
    (SELECT count(*) FROM moment_documents, json_each(document_json, '$.moments')
      WHERE video_id = ${videoId}) AS moments,
    (SELECT count(*) FROM moment_documents, json_each(document_json, '$.moments') AS one
      WHERE video_id = ${videoId} AND (one.value ->> 'soundId' IS NOT NULL OR one.value ->> 'kind' = 'silence')) AS settled,
    (SELECT count(*) FROM scores, json_each(document_json, '$.placements') WHERE video_id = ${videoId}) AS placed,
    (SELECT count(*) FROM cuts WHERE video_id = ${videoId} AND state = 'done' AND removed_at IS NULL) AS cuts`.execute(
    db,
  )
  const { moments = 0, settled = 0, placed = 0, cuts = 0 } = rows[0] ?? {}
  return { momentCount: moments, settledCount: settled, placedCount: placed, hasCut: cuts > 0 }
}
