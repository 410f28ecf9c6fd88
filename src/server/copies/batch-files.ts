import type { Readable } from 'node:stream'
import { ZipFile } from 'yazl'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { tended } from '../files/web-stream'

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
  if (files.size === 0) throw notFound('What this download brought')
  const archive = new ZipFile()
  const taken = new Set<string>()
  for (const [sha256, name] of files)
    archive.addFile(store.blobPath(sha256), freeName(name, taken), { compress: false })
  archive.end()
  return tended(archive.outputStream as unknown as Readable)
}

/** A name that no file of the archive has yet. File names are plain: they hold no path. */
function freeName(name: string, taken: Set<string>): string {
  const dot = name.lastIndexOf('.')
  for (let number = 1; ; number++) {
    const free = number === 1 ? name : `${name.slice(0, dot)} (${number})${name.slice(dot)}`
    if (taken.has(free.toLowerCase())) continue
    taken.add(free.toLowerCase())
    return free
  }
}
