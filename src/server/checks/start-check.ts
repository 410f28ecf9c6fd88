import { checks as messages } from '../../messages/server/checks'
import type { App } from '../context'
import { type Db, nowIso } from '../database/open'
import { DomainError } from '../domain-error'
import { type MediaUpload, type MediaUploadWords, storeMediaUpload } from '../files/media-upload'
import type { Jobs } from '../jobs/jobs'
import { getVideoRow } from '../rows/video-rows'

/** What is said of a finished video that is not taken. */
const WORDS: MediaUploadWords = {
  unsupported: messages.notKindFileThatCan,
  tooLarge: messages.largerThan4GbExport,
  empty: messages.emptyExportVideoAgainAnd,
}

/**
 * Takes in a finished video, streamed to disk, and queues its check.
 *
 * @throws {DomainError} not-found, unsupported-ending, too-large, empty-file.
 */
export async function takeInExport(
  app: App,
  videoId: number,
  upload: MediaUpload,
): Promise<{ exportId: number; checkId: number; jobId: number }> {
  await getVideoRow(app.db, videoId)
  const { fileName, mime, ...stored } = await storeMediaUpload(app.store, upload, WORDS)
  const { exportId, checkId } = await app.db.transaction().execute(async (trx) => {
    // The newest file once more is that file: it is brought once, and checked again.
    const newest = await trx
      .selectFrom('exports')
      .select(['id', 'sha256'])
      .where('video_id', '=', videoId)
      .where('removed_at', 'is', null)
      .orderBy('id', 'desc')
      .executeTakeFirst()
    if (newest?.sha256 === stored.sha256)
      return {
        exportId: newest.id,
        checkId: (await findOpenCheck(trx, newest.id)) ?? (await insertCheck(trx, videoId, newest.id)),
      }
    const { id } = await trx
      .insertInto('exports')
      .values({
        video_id: videoId,
        sha256: stored.sha256,
        size_bytes: stored.sizeBytes,
        file_name: fileName,
        mime,
        created_at: nowIso(),
      })
      .returning('id')
      .executeTakeFirstOrThrow()
    return { exportId: id, checkId: await insertCheck(trx, videoId, id) }
  })
  return { exportId, checkId, jobId: await enqueueCheck(app.jobs, checkId, fileName) }
}

/** Checks the newest export of a video again, for instance after new sounds came in. */
export async function checkAgain(
  app: App,
  videoId: number,
): Promise<{ exportId: number; checkId: number; jobId: number }> {
  const newest = await app.db
    .selectFrom('exports')
    .selectAll()
    .where('video_id', '=', videoId)
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  if (!newest) throw new DomainError('no-export', messages.thereNoFinishedFileYet)
  const checkId = (await findOpenCheck(app.db, newest.id)) ?? (await insertCheck(app.db, videoId, newest.id))
  return { exportId: newest.id, checkId, jobId: await enqueueCheck(app.jobs, checkId, newest.file_name) }
}

/** A check of a file that waits or runs: asking twice is asking once. */
async function findOpenCheck(db: Db, exportId: number): Promise<number | null> {
  const row = await db
    .selectFrom('checks')
    .select('id')
    .where('export_id', '=', exportId)
    .where('state', 'in', ['waiting', 'running'])
    .orderBy('id')
    .executeTakeFirst()
  return row?.id ?? null
}

async function insertCheck(db: Db, videoId: number, exportId: number): Promise<number> {
  const { id } = await db
    .insertInto('checks')
    .values({ video_id: videoId, export_id: exportId, state: 'waiting', message: '', created_at: nowIso() })
    .returning('id')
    .executeTakeFirstOrThrow()
  return id
}

async function enqueueCheck(jobs: Jobs, checkId: number, fileName: string): Promise<number> {
  return (await jobs.enqueue('check', String(checkId), messages.checking(fileName))).job.id
}

/** Queues every check that is not over; one whose job is open already is not queued twice. Call at start. */
export async function enqueueOpenChecks({ db, jobs }: { readonly db: Db; readonly jobs: Jobs }): Promise<void> {
  const open = await db
    .selectFrom('checks')
    .innerJoin('exports', 'exports.id', 'checks.export_id')
    .select(['checks.id', 'exports.file_name'])
    .where('checks.state', 'in', ['waiting', 'running'])
    .execute()
  for (const { id, file_name } of open) await enqueueCheck(jobs, id, file_name)
}
