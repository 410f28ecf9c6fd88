import { randomUUID } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { firstFree } from '../../core/first-free'
import { folders as messages } from '../../messages/server/folders'
import type { App, Services } from '../context'
import type { Db } from '../database/db'
import { DomainError, notFound } from '../domain-error'
import { diskFullError, isDiskFull } from '../files/disk-full'
import { plainFileName } from '../files/file-name'
import type { MediaUpload } from '../files/media-upload'
import { TooLargeError } from '../files/store'
import { unpackZip } from './unpack'

/** Largest pack that is taken, bytes (8 GB). */
const MAX_PACK_BYTES = 8 * 1024 ** 3

/**
 * Takes in a pack of sounds as a source of its own, or as the newer version of one that is there: what is in both stays what it is, with its papers.
 *
 * @param id Of the pack that it is a newer version of; null for a new one.
 * @throws {DomainError} unsupported-ending, too-large, empty-file, disk-full, upload-broke-off, not-found.
 */
export async function bringPack(
  app: Pick<App, 'db' | 'store' | 'jobs'>,
  upload: MediaUpload,
  id: string | null,
): Promise<{ id: string; jobId: number }> {
  const { db, store, jobs } = app
  if (id !== null) await requirePack(db, id)
  const fileName = plainFileName(upload.name)
  if (!/\.zip$/i.test(fileName)) throw new DomainError('unsupported-ending', messages.noZipFileBringPack(fileName))
  const stored = await store
    .storeStream(upload.body, { maxBytes: MAX_PACK_BYTES, signal: upload.signal })
    .catch((cause: unknown) => {
      if (cause instanceof TooLargeError) throw new DomainError('too-large', messages.largerThan8GbUnpack(fileName))
      if (isDiskFull(cause)) throw diskFullError(cause)
      throw new DomainError('upload-broke-off', messages.uploadBrokeOffNothingWas, {
        cause,
      })
    })
  if (stored.sizeBytes === 0) throw new DomainError('empty-file', messages.isEmpty(fileName))
  const source = await db.transaction().execute(async (trx) => {
    if (id !== null) {
      await trx.updateTable('sources').set({ pack_sha256: stored.sha256 }).where('id', '=', id).execute()
      return trx.selectFrom('sources').select(['id', 'name']).where('id', '=', id).executeTakeFirstOrThrow()
    }
    const made = { id: `pack-${randomUUID().slice(0, 8)}`, name: await freeName(trx, fileName.replace(/\.zip$/i, '')) }
    await trx
      .insertInto('sources')
      .values({
        ...made,
        about: messages.aPackOfSounds,
        connected: 1,
        plan: '',
        kind: 'folder',
        pack_sha256: stored.sha256,
      })
      .execute()
    return made
  })
  const { job } = await jobs.enqueue('scan', source.id, messages.unpacking(source.name))
  return { id: source.id, jobId: job.id }
}

/**
 * Unpacks what was brought of a pack and hands the folder on; afterwards neither is there any more, since the sounds are stored by themselves.
 *
 * Safe to run again from the start.
 */
export async function withUnpacked<T>(
  { db, store }: Pick<Services, 'db' | 'store'>,
  { id, pack_sha256: sha256 }: { readonly id: string; readonly pack_sha256: string },
  signal: AbortSignal,
  use: (folder: string) => Promise<T>,
): Promise<T> {
  const folder = path.join(store.dataDir, 'incoming', `unpacked-${id}`)
  await fs.promises.rm(folder, { recursive: true, force: true })
  await fs.promises.mkdir(folder, { recursive: true })
  try {
    await unpackZip(store.blobPath(sha256), folder, signal)
    const result = await use(folder)
    await db
      .updateTable('sources')
      .set({ pack_sha256: null })
      .where('id', '=', id)
      .where('pack_sha256', '=', sha256)
      .execute()
    return result
  } finally {
    await fs.promises.rm(folder, { recursive: true, force: true })
  }
}

async function requirePack(db: Db, id: string): Promise<void> {
  const row = await db
    .selectFrom('sources')
    .select('id')
    .where('id', '=', id)
    .where('kind', '=', 'folder')
    .where('folder_path', 'is', null)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisPack)
}

async function freeName(db: Db, wanted: string): Promise<string> {
  const rows = await db.selectFrom('sources').select('name').execute()
  return firstFree(wanted, new Set(rows.map(({ name }) => name)), (number) => `${wanted} (${number})`)
}
