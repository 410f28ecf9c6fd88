import { sql } from 'kysely'
import type { RemovedThings } from '../../contract'
import type { App } from '../context'
import { UNDO_MS } from './room'

/** Listed at most; what was removed earlier comes up as these are brought back. */
const LISTED_MAX = 200

/** What was removed in the last month, the newest first. A file of a removed video is not told beside it. */
export async function listRemoved({ db }: Pick<App, 'db'>, nowMs: number): Promise<RemovedThings> {
  const since = new Date(nowMs - UNDO_MS).toISOString()
  const { rows } = await sql<RemovedThings['removed'][number]>`
    SELECT 'videos' AS what, id, title AS name, NULL AS videoTitle, removed_at AS removedAt
    FROM videos WHERE removed_at > ${since}
    UNION ALL
    SELECT 'exports', exports.id, exports.file_name, videos.title, exports.removed_at
    FROM exports JOIN videos ON videos.id = exports.video_id
    WHERE exports.removed_at > ${since} AND videos.removed_at IS NULL
    UNION ALL
    SELECT 'checks', checks.id, exports.file_name, videos.title, checks.removed_at
    FROM checks JOIN exports ON exports.id = checks.export_id JOIN videos ON videos.id = exports.video_id
    WHERE checks.removed_at > ${since} AND exports.removed_at IS NULL AND videos.removed_at IS NULL
    UNION ALL
    SELECT 'cuts', cuts.id, cuts.file_name, videos.title, cuts.removed_at
    FROM cuts JOIN videos ON videos.id = cuts.video_id
    WHERE cuts.removed_at > ${since} AND videos.removed_at IS NULL
    UNION ALL
    SELECT 'sources', id, name, NULL, removed_at FROM sources WHERE removed_at > ${since}
    ORDER BY removedAt DESC LIMIT ${LISTED_MAX}
  `.execute(db)
  return { removed: rows }
}
