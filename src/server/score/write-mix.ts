import fs from 'node:fs'
import { ScoreSchema } from '../../contract'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import type { JobContext } from '../jobs/jobs'
import { getVideoRow } from '../rows/video-rows'
import { makeMixFiles } from './mix-files'
import type { MixResultJson } from './mix-rows'

/**
 * Writes a mix and, where they are asked for, a stem for each layer that is heard.
 *
 * Safe to run again: nothing is kept of one that broke off.
 */
export async function writeMix(services: Services, mixId: number, context: JobContext): Promise<string> {
  const { db } = services
  const row = await db.selectFrom('mixes').selectAll().where('id', '=', mixId).executeTakeFirst()
  if (!row) throw notFound(messages.thisMix)
  if (row.state === 'done') return messages.itWasWrittenAlready
  await db.updateTable('mixes').set({ state: 'running', message: '' }).where('id', '=', mixId).execute()
  const score = ScoreSchema.parse(JSON.parse(row.document_json))
  const { title } = await getVideoRow(db, row.video_id)
  const temporary: string[] = []
  const newPath = (ending: string): string => {
    const file = services.store.temporaryPath(ending)
    temporary.push(file)
    return file
  }
  try {
    const { outputs, silent, result } = await makeMixFiles(services, {
      videoId: row.video_id,
      title,
      score,
      withStems: row.with_stems === 1,
      format: row.format === 'flac' ? 'flac' : 'wav',
      withVideo: row.with_video === 1,
      writtenAt: row.created_at,
      newPath,
      context,
    })
    const stored = await Promise.all(
      outputs.map(async ({ name, path }) => ({ name, ...(await services.store.commitTemporaryFile(path)) })),
    )
    const kept: MixResultJson = { ...result, silent: [...silent] }
    await db.transaction().execute(async (trx) => {
      await trx.deleteFrom('mix_files').where('mix_id', '=', mixId).execute()
      await trx
        .insertInto('mix_files')
        .values(
          stored.map(({ name, sha256, sizeBytes }, position) => ({
            mix_id: mixId,
            position,
            name,
            sha256,
            size_bytes: sizeBytes,
          })),
        )
        .execute()
      await trx
        .updateTable('mixes')
        .set({ state: 'done', message: '', result_json: JSON.stringify(kept) })
        .where('id', '=', mixId)
        .execute()
    })
    return silent.length === 0 ? messages.theMixIsWritten : messages.theMixIsWrittenWithout(silent.join(', '))
  } catch (error) {
    const isCancelled = context.signal.aborted
    await db
      .updateTable('mixes')
      .set({ state: isCancelled ? 'cancelled' : 'failed', message: isCancelled ? '' : services.explain(error) })
      .where('id', '=', mixId)
      .execute()
    throw error
  } finally {
    await Promise.all(temporary.map((file) => fs.promises.rm(file, { force: true })))
  }
}
