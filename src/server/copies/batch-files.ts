import type { Readable } from 'node:stream'
import { ZipFile } from 'yazl'
import { copies as messages } from '../../messages/server/copies'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { tended } from '../files/web-stream'
import { archiveNames } from './archive-names'

/** The copies of a batch as a ZIP archive that is made while it is read. @throws {DomainError} not-found. */
export async function getBatchFiles({ db, store }: Pick<Services, 'db' | 'store'>, batchId: number): Promise<Readable> {
  const rows = await db
    .selectFrom('batch_items')
    .innerJoin('active_grants', 'active_grants.sound_id', 'batch_items.sound_id')
    .innerJoin('copies', 'copies.sha256', 'active_grants.copy_sha256')
    .select(['copies.sha256', 'copies.file_name'])
    .where('batch_id', '=', batchId)
    .orderBy('batch_items.position')
    .orderBy('active_grants.id', 'desc')
    .execute()
  const files = new Map(rows.filter(({ sha256 }) => store.has(sha256)).map((row) => [row.sha256, row.file_name]))
  if (files.size === 0) throw notFound(messages.whatThisDownloadBrought)
  const archive = new ZipFile()
  const freeName = archiveNames()
  for (const [sha256, name] of files) archive.addFile(store.blobPath(sha256), freeName(name), { compress: false })
  archive.end()
  return tended(archive.outputStream as unknown as Readable)
}
