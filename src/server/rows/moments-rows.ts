import { MomentsDocumentSchema } from '../../contract'
import { type MomentsDocument, NO_MOMENTS } from '../../core/moments'
import { type Db, nowIso } from '../database/open'

/** What is planned for a video, as it stands. */
export interface MomentsRow {
  /** 0 before anything was planned. */
  readonly revision: number
  readonly document: MomentsDocument
  /** The cut that the times are of; null while there is none. */
  readonly cutId: number | null
}

export async function findMomentsRow(db: Db, videoId: number): Promise<MomentsRow> {
  const row = await db.selectFrom('moment_documents').selectAll().where('video_id', '=', videoId).executeTakeFirst()
  if (!row) return { revision: 0, document: NO_MOMENTS, cutId: null }
  return {
    revision: row.revision,
    document: MomentsDocumentSchema.parse(JSON.parse(row.document_json)),
    cutId: row.cut_id,
  }
}

export async function writeMoments(db: Db, videoId: number, { revision, document, cutId }: MomentsRow): Promise<void> {
  const values = { revision, document_json: JSON.stringify(document), cut_id: cutId, changed_at: nowIso() }
  await db
    .insertInto('moment_documents')
    .values({ video_id: videoId, ...values })
    .onConflict((conflict) => conflict.column('video_id').doUpdateSet(values))
    .execute()
}
