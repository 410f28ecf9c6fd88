import type { Selectable } from 'kysely'
import { z } from 'zod'
import type { WrittenMix } from '../../contract'
import { findMime } from '../../core/formats/media-endings'
import { score as messages } from '../../messages/server/score'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../domain-error'
import type { NamedFile } from '../rows/stored-files'

export type MixRow = Selectable<Schema['mixes']>

/** What a mix came to, as it is kept. */
const MixResultJson = z.object({
  lengthS: z.number(),
  integratedLufs: z.number().nullable(),
  truePeakDbtp: z.number().nullable(),
  mostLimitedDb: z.number(),
  silent: z.array(z.string()),
})
export type MixResultJson = z.infer<typeof MixResultJson>

/** Mixes of a video, the newest first. */
export async function loadMixes(db: Db, videoId: number): Promise<WrittenMix[]> {
  const rows = await db.selectFrom('mixes').selectAll().where('video_id', '=', videoId).orderBy('id', 'desc').execute()
  const jobs = await db
    .selectFrom('jobs')
    .select(['id', 'subject'])
    .where('kind', '=', 'mix')
    .where('state', 'in', ['queued', 'running'])
    .execute()
  const jobOf = new Map(jobs.map(({ id, subject }) => [Number(subject), id]))
  return Promise.all(rows.map((row) => mixOf(db, row, jobOf.get(row.id) ?? null)))
}

async function mixOf(db: Db, row: MixRow, jobId: number | null): Promise<WrittenMix> {
  const files = await db
    .selectFrom('mix_files')
    .select(['name', 'size_bytes as sizeBytes'])
    .where('mix_id', '=', row.id)
    .orderBy('position')
    .execute()
  const result = row.result_json === null ? null : MixResultJson.parse(JSON.parse(row.result_json))
  return {
    id: row.id,
    revision: row.revision,
    state: row.state as WrittenMix['state'],
    message: row.message,
    jobId,
    createdAt: row.created_at,
    lengthS: result?.lengthS ?? null,
    integratedLufs: result?.integratedLufs ?? null,
    truePeakDbtp: result?.truePeakDbtp ?? null,
    mostLimitedDb: result?.mostLimitedDb ?? null,
    silent: result?.silent ?? [],
    files,
  }
}

/** A file of a mix. @param position 0 for the mix itself. @throws {DomainError} not-found. */
export async function getMixFile(db: Db, mixId: number, position: number): Promise<NamedFile> {
  const row = await db
    .selectFrom('mix_files')
    .select(['sha256', 'name as fileName'])
    .where('mix_id', '=', mixId)
    .where('position', '=', position)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisFileOfAMix)
  return { ...row, mime: findMime(row.fileName) ?? 'application/octet-stream' }
}
