import { cuts as messages } from '../../messages/server/cuts'
import type { App } from '../context'
import { type Db, nowIso } from '../database/open'
import { DomainError } from '../domain-error'
import { type MediaUpload, type MediaUploadWords, storeMediaUpload } from '../files/media-upload'
import type { Jobs } from '../jobs/jobs'
import { findMomentsRow } from '../rows/moments-rows'
import { getVideoRow } from '../rows/video-rows'

/** What is said of a cut that is not taken. */
const WORDS: MediaUploadWords = {
  unsupported: messages.noKindVideoOrSound,
  tooLarge: messages.largerThan4GbExport,
  empty: messages.emptyExportCutAgainAnd,
}

/**
 * Takes in a rough cut of a video, streamed to disk, and queues its reading. The newest once more is that cut.
 *
 * @throws {DomainError} not-found, unsupported-ending, too-large, empty-file, disk-full, upload-broke-off.
 */
export async function bringCut(
  app: Pick<App, 'db' | 'store' | 'jobs'>,
  videoId: number,
  upload: MediaUpload,
): Promise<{ cutId: number; jobId: number | null }> {
  const { db, store, jobs } = app
  await getVideoRow(db, videoId)
  const { fileName, mime, ...stored } = await storeMediaUpload(store, upload, WORDS)
  const cutId = await db.transaction().execute(async (trx) => {
    const newest = await selectNewestCut(trx, videoId).executeTakeFirst()
    if (newest?.sha256 === stored.sha256) {
      // What failed or was stopped is tried again.
      if (newest.state !== 'done')
        await trx.updateTable('cuts').set({ state: 'waiting', message: '' }).where('id', '=', newest.id).execute()
      return newest.id
    }
    const made = await trx
      .insertInto('cuts')
      .values({
        video_id: videoId,
        sha256: stored.sha256,
        size_bytes: stored.sizeBytes,
        file_name: fileName,
        mime,
        created_at: nowIso(),
        state: 'waiting',
      })
      .returning('id')
      .executeTakeFirstOrThrow()
    return made.id
  })
  return { cutId, jobId: await enqueueCut({ db, jobs }, cutId) }
}

/** The newest version of the cut of a video, among those that were not removed. */
function selectNewestCut(db: Db, videoId: number) {
  return db
    .selectFrom('cuts')
    .select(['id', 'sha256', 'state', 'file_name'])
    .where('video_id', '=', videoId)
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .limit(1)
}

/** Queues the reading of a cut that waits. @returns Null for one that was read. */
async function enqueueCut({ db, jobs }: { db: Db; jobs: Jobs }, cutId: number): Promise<number | null> {
  const cut = await db
    .selectFrom('cuts')
    .select(['file_name', 'state'])
    .where('id', '=', cutId)
    .executeTakeFirstOrThrow()
  if (cut.state === 'done') return null
  return (await jobs.enqueue('cut', String(cutId), messages.reading(cut.file_name))).job.id
}

/** Reads a cut again whose reading failed or was stopped. @throws {DomainError} not-found, already. */
export async function readCutAgain(
  app: Pick<App, 'db' | 'jobs'>,
  cutId: number,
): Promise<{ cutId: number; jobId: number | null }> {
  const row = await app.db
    .updateTable('cuts')
    .set({ state: 'waiting', message: '' })
    .where('id', '=', cutId)
    .where('removed_at', 'is', null)
    .where('state', 'in', ['failed', 'cancelled', 'waiting'])
    .returning('id')
    .executeTakeFirst()
  if (!row) throw new DomainError('already', messages.thisCutWasReadAlready)
  return { cutId, jobId: await enqueueCut(app, cutId) }
}

/** Queues what brings the moments of a video to its newest cut, after one was removed or brought back. */
export async function followNewestCut({ db, jobs }: Pick<App, 'db' | 'jobs'>, videoId: number): Promise<void> {
  const { cutId } = await findMomentsRow(db, videoId)
  const newest = await selectNewestCut(db, videoId).where('state', '=', 'done').executeTakeFirst()
  if (!newest || cutId === null || newest.id === cutId) return
  await jobs.enqueue('cut', String(newest.id), messages.movingTheMomentsTo(newest.file_name))
}

/** Queues every cut whose reading is not over. Call at start. */
export async function enqueueOpenCuts({ db, jobs }: Pick<App, 'db' | 'jobs'>): Promise<void> {
  const open = await db
    .selectFrom('cuts')
    .select('id')
    .where('state', 'in', ['waiting', 'running'])
    .where('removed_at', 'is', null)
    .execute()
  for (const { id } of open) await enqueueCut({ db, jobs }, id)
  const left = await db
    .selectFrom('moment_documents')
    .innerJoin('cuts', 'cuts.id', 'moment_documents.cut_id')
    .select('moment_documents.video_id')
    .where('cuts.removed_at', 'is not', null)
    .execute()
  for (const { video_id } of left) await followNewestCut({ db, jobs }, video_id)
}
