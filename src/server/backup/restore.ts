import fs from 'node:fs'
import path from 'node:path'
import { backup as messages } from '../../messages/server/backup'
import { copyKeys } from '../accounts/key-file'
import { DATABASE_NAME } from '../database/open'
import { Sqlite } from '../database/sqlite'
import { hashFile } from '../files/hash-file'
import { ownVocabularyPath } from '../finding/open-finder'
import { listSnapshots, readManifest, savedPath, snapshotFolder } from './backup'
import { BackupError, type BackupManifest } from './manifest'

interface RestoreOptions {
  /** Folder that backups were made into. */
  readonly folder: string
  /** Data folder that is made; it must be empty or not there. */
  readonly dataDir: string
  /** Name of a saved state; the newest by default. */
  readonly snapshot?: string | undefined
  readonly report?: (fraction: number, message: string) => void
}

/**
 * Makes a data folder from a backup. The whole of it is verified, and the folder comes into being at once: it is whole, or not there.
 *
 * @throws {BackupError} not-a-backup, damaged, not-empty. Nothing is changed then.
 */
export async function restore({ folder, dataDir, snapshot, report }: RestoreOptions): Promise<BackupManifest> {
  const target = path.resolve(dataDir)
  await requireEmpty(target)
  const names = await listSnapshots(folder)
  const name = snapshot ?? names.at(-1)
  if (name === undefined || !names.includes(name))
    throw new BackupError(
      'not-a-backup',
      names.length === 0
        ? messages.holdsNoBackupGoodThud(folder)
        : messages.thereNoSavedStateThere(name, names.join(', ')),
    )
  const manifest = await readManifest(snapshotFolder(folder, name))
  const making = `${target}.restoring`
  await fs.promises.rm(making, { recursive: true, force: true })
  try {
    await bringBack({ folder, name, making, manifest, report: report ?? (() => {}) })
    await fs.promises.rm(target, { recursive: true, force: true })
    await fs.promises.rename(making, target)
  } catch (error) {
    await fs.promises.rm(making, { recursive: true, force: true })
    throw error
  }
  return manifest
}

async function requireEmpty(target: string): Promise<void> {
  const names = await fs.promises.readdir(target).catch(() => [])
  if (names.length > 0) throw new BackupError('not-empty', messages.notEmptyBackupNotLaid(target))
}

async function bringBack(options: {
  readonly folder: string
  readonly name: string
  readonly making: string
  readonly manifest: BackupManifest
  readonly report: (fraction: number, message: string) => void
}): Promise<void> {
  const { folder, name, making, manifest, report } = options
  await fs.promises.mkdir(making, { recursive: true })
  const database = path.join(making, DATABASE_NAME)
  await fs.promises.copyFile(path.join(snapshotFolder(folder, name), DATABASE_NAME), database)
  if ((await hashFile(database)) !== manifest.database.sha256) throw damaged(messages.theSavedDatabase)
  const opened = new Sqlite(database, { readonly: true })
  const [{ integrity_check: words }] = opened.pragma('integrity_check(1)') as [{ integrity_check: string }]
  opened.close()
  if (words !== 'ok') throw damaged(messages.theSavedDatabase)
  const ownWords = path.basename(ownVocabularyPath(making))
  const savedWords = path.join(snapshotFolder(folder, name), ownWords)
  if (fs.existsSync(savedWords)) await fs.promises.copyFile(savedWords, path.join(making, ownWords))
  await copyKeys(snapshotFolder(folder, name), making)
  const files = Object.entries(manifest.files)
  for (const [index, [sha256, sizeBytes]] of files.entries()) {
    report(index / files.length, messages.bringingBackFileOf(index + 1, files.length))
    const to = path.join(making, 'blobs', sha256.slice(0, 2), sha256)
    await fs.promises.mkdir(path.dirname(to), { recursive: true })
    await fs.promises.copyFile(savedPath(folder, sha256), to).catch((cause: unknown) => {
      throw damaged(`The saved file ${sha256.slice(0, 12)} (${sizeBytes} bytes)`, cause)
    })
    if ((await hashFile(to)) !== sha256) throw damaged(messages.theSavedFile(sha256.slice(0, 12)))
  }
}

function damaged(what: string, cause?: unknown): BackupError {
  return new BackupError('damaged', messages.damagedOrGoneThisSaved(what), { cause })
}
