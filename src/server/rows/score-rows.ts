import { ScoreSchema } from '../../contract'
import { EMPTY_SCORE, type Score } from '../../core/score'
import { type Db, nowIso } from '../database/open'

/** What is placed in a video, as it stands. */
export interface ScoreRow {
  /** 0 before anything was placed. */
  readonly revision: number
  readonly document: Score
}

export async function findScoreRow(db: Db, videoId: number): Promise<ScoreRow> {
  const row = await db.selectFrom('scores').selectAll().where('video_id', '=', videoId).executeTakeFirst()
  if (!row) return { revision: 0, document: EMPTY_SCORE }
  return { revision: row.revision, document: ScoreSchema.parse(JSON.parse(row.document_json)) }
}

export async function writeScore(db: Db, videoId: number, { revision, document }: ScoreRow): Promise<void> {
  const values = { revision, document_json: JSON.stringify(document), changed_at: nowIso() }
  await db
    .insertInto('scores')
    .values({ video_id: videoId, ...values })
    .onConflict((conflict) => conflict.column('video_id').doUpdateSet(values))
    .execute()
}
