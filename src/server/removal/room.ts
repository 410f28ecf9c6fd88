import fs from 'node:fs'
import path from 'node:path'
import { sql } from 'kysely'
import type { Room } from '../../contract'
import { KeyFile } from '../accounts/key-file'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { freeRoom } from '../files/disk-full'
import { appendToLedger } from '../ledger/ledger'
import { forgetLongUnseen } from '../live/forget-unseen'

/** A file that nothing names is left alone for this long: it may be on its way in, ms. */
const GRACE_MS = 24 * 3600 * 1000
/** What was removed can be brought back for this long, ms. */
export const UNDO_MS = 30 * 24 * 3600 * 1000

/** What each stored file is there for; one that serves several things counts for the first. */
export async function listNamedFiles(db: Db): Promise<Map<string, Room['items'][number]['what']>> {
  const named = new Map<string, Room['items'][number]['what']>()
  const add = (what: Room['items'][number]['what'], hashes: readonly (string | null)[]): void => {
    for (const sha256 of hashes) if (sha256 !== null && !named.has(sha256)) named.set(sha256, what)
  }
  const exports = await db.selectFrom('exports').select('sha256').execute()
  const grants = await db.selectFrom('grants').select(['copy_sha256', 'served_sha256', 'heard_sha256']).execute()
  const copies = await db.selectFrom('copies').select('sha256').execute()
  const evidence = await db.selectFrom('evidence').select('sha256').execute()
  const audio = await db.selectFrom('analyses').select('audio_sha256').execute()
  const files = await db.selectFrom('folder_files').select('sha256').execute()
  add(
    'evidence',
    evidence.map(({ sha256 }) => sha256),
  )
  add(
    'copies',
    grants.flatMap(({ copy_sha256, served_sha256 }) => [copy_sha256, served_sha256]),
  )
  add(
    'copies',
    copies.map(({ sha256 }) => sha256),
  )
  const orders = await db.selectFrom('orders').select(['receipt_sha256', 'served_sha256']).execute()
  add(
    'evidence',
    orders.flatMap(({ receipt_sha256, served_sha256 }) => [receipt_sha256, served_sha256]),
  )
  add(
    'own files',
    files.map(({ sha256 }) => sha256),
  )
  add(
    'videos',
    exports.map(({ sha256 }) => sha256),
  )
  const packs = await db.selectFrom('sources').select('pack_sha256').where('pack_sha256', 'is not', null).execute()
  add(
    'own files',
    packs.map(({ pack_sha256 }) => pack_sha256),
  )
  const cuts = await db
    .selectFrom('cuts')
    .select(['sha256', 'peaks_sha256', 'sketch_sha256', 'strip_sha256', 'frames_sha256'])
    .execute()
  add(
    'videos',
    cuts.flatMap((cut) => [cut.sha256, cut.peaks_sha256, cut.sketch_sha256, cut.strip_sha256, cut.frames_sha256]),
  )
  const mixes = await db.selectFrom('mix_files').select('sha256').execute()
  add(
    'videos',
    mixes.map(({ sha256 }) => sha256),
  )
  add(
    'previews',
    audio.map(({ audio_sha256 }) => audio_sha256),
  )
  add(
    'previews',
    grants.map(({ heard_sha256 }) => heard_sha256),
  )
  return named
}

interface StoredBlob {
  readonly sha256: string
  readonly file: string
  readonly bytes: number
  readonly modifiedMs: number
}

export async function listStoredFiles(dataDir: string, folder: 'blobs' | 'features'): Promise<StoredBlob[]> {
  const top = path.join(dataDir, folder)
  const entries = await fs.promises.readdir(top, { recursive: true, withFileTypes: true })
  const found: StoredBlob[] = []
  for (const entry of entries) {
    const sha256 = /^([0-9a-f]{64})(?:\.(?:features|templates|decoy))?$/.exec(entry.name)?.[1]
    if (!entry.isFile() || !sha256) continue
    const file = path.join(entry.parentPath ?? entry.path, entry.name)
    const stat = await fs.promises.stat(file).catch(() => null)
    if (stat) found.push({ sha256, file, bytes: stat.size, modifiedMs: stat.mtimeMs })
  }
  return found
}

/** What takes how much room in the data folder, the most first, and how much is left on the disk. */
export async function measureRoom({ db, store }: Pick<Services, 'db' | 'store'>): Promise<Room> {
  const named = await listNamedFiles(db)
  const sums = new Map<Room['items'][number]['what'], { bytes: number; count: number }>()
  const add = (what: Room['items'][number]['what'], bytes: number): void => {
    const sum = sums.get(what) ?? { bytes: 0, count: 0 }
    sums.set(what, { bytes: sum.bytes + bytes, count: sum.count + 1 })
  }
  for (const { sha256, bytes } of await listStoredFiles(store.dataDir, 'blobs'))
    add(named.get(sha256) ?? 'unused', bytes)
  for (const { sha256, bytes } of await listStoredFiles(store.dataDir, 'features'))
    add(named.has(sha256) ? 'features' : 'unused', bytes)
  for (const name of await fs.promises.readdir(store.dataDir))
    if (name.startsWith('good-thud.sqlite'))
      add('database', (await fs.promises.stat(path.join(store.dataDir, name)).catch(() => ({ size: 0 }))).size)
  return {
    items: [...sums].map(([what, sum]) => ({ what, ...sum })).sort((a, b) => b.bytes - a.bytes),
    freeBytes: await freeRoom(store.dataDir),
  }
}

/** Takes rows away for good, with all that hangs on them, and enters which videos and checks went. */
async function deleteRemoved(trx: Db, before: string): Promise<void> {
  const there = async () => ({
    videos: (await trx.selectFrom('videos').select('id').orderBy('id').execute()).map(({ id }) => id),
    checks: (await trx.selectFrom('checks').select('id').orderBy('id').execute()).map(({ id }) => id),
  })
  const atFirst = await there()
  for (const table of ['checks', 'exports', 'cuts', 'videos'] as const)
    await trx.deleteFrom(table).where('removed_at', '<', before).execute()
  const left = await there()
  const gone = (kind: 'videos' | 'checks'): number[] => {
    const kept = new Set(left[kind])
    return atFirst[kind].filter((id) => !kept.has(id))
  }
  const went = { videos: gone('videos'), checks: gone('checks') }
  if (went.videos.length + went.checks.length > 0) await appendToLedger(trx, 'cleared-away', went)
}

/** The key of a library that was disconnected goes once that cannot be undone any more. */
async function forgetKeys(db: Db, dataDir: string, before: string): Promise<void> {
  const rows = await db
    .selectFrom('sources')
    .select('id')
    .where('kind', '=', 'library')
    .where('connected', '=', 0)
    .where('removed_at', '<', before)
    .execute()
  if (rows.length > 0) new KeyFile(dataDir).forget(rows.map(({ id }) => id))
}

/**
 * Takes away for good what was removed more than a month ago, and every stored file that nothing names. A file that may just be on its
 * way in stays for a day.
 *
 * @param nowMs Now, ms since 1970. @param graceMs How long a file that nothing names stays.
 */
export async function sweep(
  { db, store }: Pick<Services, 'db' | 'store'>,
  {
    nowMs,
    signal,
    graceMs = GRACE_MS,
  }: { readonly nowMs: number; readonly signal: AbortSignal; readonly graceMs?: number },
): Promise<{ files: number; bytes: number }> {
  const before = new Date(nowMs - UNDO_MS).toISOString()
  await db.transaction().execute((trx) => deleteRemoved(trx, before))
  await forgetLongUnseen(db, nowMs)
  await forgetKeys(db, store.dataDir, before)
  const named = await listNamedFiles(db)
  let files = 0
  let bytes = 0
  for (const folder of ['blobs', 'features'] as const)
    for (const stored of await listStoredFiles(store.dataDir, folder)) {
      signal.throwIfAborted()
      if (named.has(stored.sha256) || nowMs - stored.modifiedMs < graceMs) continue
      await fs.promises.rm(stored.file, { force: true })
      files++
      bytes += stored.bytes
    }
  return { files, bytes }
}

/** Takes a file away that nothing but the list of copies names: what was refused is not kept. */
export async function removeUnusedCopy({ db, store }: Pick<Services, 'db' | 'store'>, sha256: string): Promise<void> {
  const { rows } = await sql<{ used: number }>`SELECT
    EXISTS (SELECT 1 FROM grants WHERE ${sha256} IN (copy_sha256, served_sha256, heard_sha256))
    OR EXISTS (SELECT 1 FROM evidence WHERE sha256 = ${sha256})
    OR EXISTS (SELECT 1 FROM exports WHERE sha256 = ${sha256})
    OR EXISTS (SELECT 1 FROM cuts WHERE ${sha256} IN (sha256, peaks_sha256, sketch_sha256, strip_sha256, frames_sha256))
    OR EXISTS (SELECT 1 FROM folder_files WHERE sha256 = ${sha256})
    OR EXISTS (SELECT 1 FROM analyses WHERE audio_sha256 = ${sha256}) AS used`.execute(db)
  if (rows[0]?.used) return
  await db.deleteFrom('copies').where('sha256', '=', sha256).execute()
  await fs.promises.rm(store.blobPath(sha256), { force: true })
}
