import fs from 'node:fs'
import path from 'node:path'
import type { Damage, DoctorReport } from '../../contract'
import { doctor as messages } from '../../messages/server/doctor'
import type { Db } from '../database/db'
import { hashFile } from '../files/hash-file'
import type { FileStore } from '../files/store'
import type { JobKind } from '../jobs/jobs'

interface RepairOptions {
  readonly db: Db
  readonly store: FileStore
  /** Queues work that needs the libraries or a decoder. */
  readonly enqueue: (kind: JobKind, subject: string, title: string) => Promise<unknown>
  /** Folder with a backup; null where there is none. */
  readonly backupFolder: string | null
}

/** What became of it. */
export interface Repaired {
  /** Brought back from a backup. */
  readonly restored: number
  /** Under way: fetched, read or made again. */
  readonly underWay: number
  /** Taken away, since nothing uses it. */
  readonly forgotten: number
  /** What cannot be repaired by itself. */
  readonly left: readonly Damage[]
}

/**
 * Repairs what is safe to repair. A damaged file is set aside and never deleted; it comes back from a backup where one has it, else
 * from where it came from.
 */
export async function repairFolder(options: RepairOptions, { damages }: DoctorReport): Promise<Repaired> {
  const left: Damage[] = []
  const counts = { restored: 0, underWay: 0, forgotten: 0 }
  for (const damage of damages) {
    const { kind, sha256 } = damage
    if (sha256 === null) {
      left.push(damage)
      continue
    }
    if (kind === 'changed') await setAside(options.store, sha256)
    if (kind === 'unused') await fs.promises.rm(options.store.blobPath(sha256), { force: true })
    const outcome = await repairOne(options, damage, sha256)
    if (outcome === 'left') left.push(damage)
    else counts[outcome]++
  }
  return { ...counts, left }
}

async function repairOne(
  options: RepairOptions,
  { repair }: Damage,
  sha256: string,
): Promise<'restored' | 'underWay' | 'forgotten' | 'left'> {
  if (repair === 'forget') return 'forgotten'
  if (repair !== 'make again' && (await restoreFrom(options, sha256))) return 'restored'
  if (repair === 'fetch again') return (await fetchAgain(options, sha256)) ? 'underWay' : 'left'
  if (repair === 'read again') return (await readAgain(options, sha256)) ? 'underWay' : 'left'
  if (repair === 'make again') {
    await options.enqueue('remake', sha256, messages.makingAgainWhatHearingNeeds)
    return 'underWay'
  }
  return 'left'
}

async function setAside(store: FileStore, sha256: string): Promise<void> {
  const folder = path.join(store.dataDir, 'damaged')
  await fs.promises.mkdir(folder, { recursive: true })
  await fs.promises.rename(store.blobPath(sha256), path.join(folder, `${sha256} ${Date.now()}`))
}

/** Takes a file back from a backup, when it is whole there. */
async function restoreFrom({ store, backupFolder }: RepairOptions, sha256: string): Promise<boolean> {
  if (backupFolder === null) return false
  const saved = path.join(backupFolder, 'blobs', sha256.slice(0, 2), sha256)
  if ((await hashFile(saved).catch(() => null)) !== sha256) return false
  const temporary = store.temporaryPath('restored')
  await fs.promises.copyFile(saved, temporary)
  return (await store.commitTemporaryFile(temporary)).sha256 === sha256
}

/** A copy of a library comes again by its order; a preview by the library's next sync. */
async function fetchAgain({ db, enqueue }: RepairOptions, sha256: string): Promise<boolean> {
  const grant = await db
    .selectFrom('active_grants')
    .innerJoin('sound_rows', 'sound_rows.id', 'active_grants.sound_id')
    .leftJoin('orders', 'orders.grant_id', 'active_grants.id')
    .select(['active_grants.sound_id', 'shown_title', 'orders.id as order_id', 'active_grants.kind'])
    .where((eb) =>
      eb.or([eb('active_grants.copy_sha256', '=', sha256), eb('active_grants.served_sha256', '=', sha256)]),
    )
    .orderBy('active_grants.id', 'desc')
    .executeTakeFirst()
  if (grant?.order_id) await enqueue('purchase', String(grant.order_id), messages.fetchingAgain(grant.shown_title))
  else if (grant && grant.kind !== 'purchase')
    await enqueue('download', String(grant.sound_id), messages.downloadingAgain(grant.shown_title))
  if (grant) return grant.order_id !== null || grant.kind !== 'purchase'
  const heard = await db
    .selectFrom('analyses')
    .innerJoin('sound_rows', 'sound_rows.id', 'analyses.sound_id')
    .select(['sound_id', 'source_id', 'source_name'])
    .where('audio_sha256', '=', sha256)
    .executeTakeFirst()
  if (!heard) return false
  await db.deleteFrom('analyses').where('sound_id', '=', heard.sound_id).execute()
  await enqueue('mirror', heard.source_id, messages.syncing(heard.source_name))
  return true
}

/** A file of an own folder is read again where it still lies there. */
async function readAgain({ db, enqueue }: RepairOptions, sha256: string): Promise<boolean> {
  const row = await db
    .selectFrom('folder_files')
    .innerJoin('sources', 'sources.id', 'folder_files.source_id')
    .select(['sources.id', 'sources.name', 'path', 'folder_path'])
    .where('sha256', '=', sha256)
    .where('sources.kind', '=', 'folder')
    .executeTakeFirst()
  if (!row || !fs.existsSync(path.join(row.folder_path ?? '', row.path))) return false
  // As one that was never seen: a scan passes over what did not change.
  await db
    .updateTable('folder_files')
    .set({ modified_ms: 0 })
    .where('source_id', '=', row.id)
    .where('path', '=', row.path)
    .execute()
  await enqueue('scan', row.id, messages.lookingThrough(row.name))
  return true
}

/** What became of it, in a sentence. */
export function repairedInWords({ restored, underWay, forgotten, left }: Repaired): string {
  const done = [
    restored > 0 ? messages.cameBackFromTheBackup(restored) : '',
    underWay > 0 ? messages.areFetchedOrMadeAgain(underWay) : '',
    forgotten > 0 ? messages.thatNothingUsedWereTaken(forgotten) : '',
    left.length > 0 ? messages.needBackupOrYourHelp(left.length) : '',
  ].filter(Boolean)
  return done.length === 0 ? messages.thereWasNothingToRepair : `${done.join('; ')}.`
}
