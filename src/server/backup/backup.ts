import fs from 'node:fs'
import path from 'node:path'
import { sql } from 'kysely'
import { backup as messages } from '../../messages/server/backup'
import { copyKeys } from '../accounts/key-file'
import { DATABASE_NAME, openToRead } from '../database/open'
import { Sqlite } from '../database/sqlite'
import { hashFile } from '../files/hash-file'
import { FileStore } from '../files/store'
import { ownVocabularyPath } from '../finding/open-finder'
import { ledgerHead } from '../ledger/ledger'
import { listNamedFiles } from '../removal/room'
import { BackupError, BackupManifest, type BackupSummary } from './manifest'

const MANIFEST = 'manifest.json'
const SNAPSHOTS = 'snapshots'
/** Pages of the database that are copied in one go: others write between. */
const PAGES_PER_STEP = 2000

interface BackupOptions {
  readonly dataDir: string
  /** Absolute path; made where it is not there. */
  readonly folder: string
  /** How many saved states stay in the folder; null for all. */
  readonly keepCount: number | null
  /** Whether the keys of libraries are saved too; whoever has the backup has them then. */
  readonly withKeys?: boolean
  readonly signal?: AbortSignal
  readonly report?: (fraction: number, message: string) => void
}

/**
 * Saves a data folder: the database while it is in use, and every file that it names, by its hash. A file that is in the folder already is not
 * copied again. A saved state counts only once it is whole and was read back.
 *
 * @throws {BackupError} inside, when the folder lies in the data folder; Error of the file system.
 */
export async function backUp(options: BackupOptions): Promise<BackupSummary> {
  const { dataDir, folder, keepCount } = options
  requireOutside(dataDir, folder)
  const at = new Date().toISOString()
  const unfinished = path.join(folder, SNAPSHOTS, `${at.replace(/[:.]/g, '-')}.unfinished`)
  await fs.promises.mkdir(unfinished, { recursive: true })
  try {
    const saved = path.join(unfinished, DATABASE_NAME)
    await saveDatabase(path.join(dataDir, DATABASE_NAME), saved)
    const words = ownVocabularyPath(dataDir)
    if (fs.existsSync(words)) await fs.promises.copyFile(words, path.join(unfinished, path.basename(words)))
    if (options.withKeys) await copyKeys(dataDir, unfinished)
    const { manifest, newBytes } = await saveFiles(options, { saved, at })
    await fs.promises.writeFile(path.join(unfinished, MANIFEST), JSON.stringify(manifest), { flush: true })
    await fs.promises.rename(unfinished, unfinished.replace(/\.unfinished$/, ''))
    if (keepCount !== null) await forgetOldest(folder, keepCount)
    const sizes = Object.values(manifest.files)
    const bytes = sizes.reduce((sum, size) => sum + size, manifest.database.sizeBytes)
    return { at, fileCount: sizes.length, bytes, newBytes: newBytes + manifest.database.sizeBytes }
  } catch (error) {
    await fs.promises.rm(unfinished, { recursive: true, force: true })
    throw error
  }
}

/** @throws {BackupError} inside. */
export function requireOutside(dataDir: string, folder: string): void {
  const relative = path.relative(path.resolve(dataDir), path.resolve(folder))
  if (relative === '' || (!relative.startsWith('..') && !path.isAbsolute(relative)))
    throw new BackupError('inside', messages.liesInDataFolderItself(folder))
}

/** SQLite's online backup: a state of one moment, while others read and write. */
async function saveDatabase(from: string, to: string): Promise<void> {
  const source = new Sqlite(from, { readonly: true })
  try {
    await source.copyTo(to, PAGES_PER_STEP)
  } finally {
    source.close()
  }
  // One file without a journal beside it.
  const copy = new Sqlite(to)
  try {
    copy.pragma('journal_mode = DELETE')
    const [{ integrity_check: words }] = copy.pragma('integrity_check(1)') as [{ integrity_check: string }]
    if (words !== 'ok') throw new BackupError('damaged', `The database is damaged (${words}); it was not saved.`)
  } finally {
    copy.close()
  }
}

async function saveFiles(
  { dataDir, folder, signal, report }: BackupOptions,
  { saved, at }: { readonly saved: string; readonly at: string },
): Promise<{ manifest: BackupManifest; newBytes: number }> {
  const store = new FileStore(dataDir)
  const db = openToRead(path.dirname(saved))
  try {
    const named = [...(await listNamedFiles(db)).keys()].sort()
    const files: Record<string, number> = {}
    const missing: string[] = []
    let newBytes = 0
    for (const [index, sha256] of named.entries()) {
      signal?.throwIfAborted()
      report?.(index / named.length, messages.savingFileOf(index + 1, named.length))
      const outcome = await saveFile(store.blobPath(sha256), savedPath(folder, sha256), sha256)
      if (outcome === null) missing.push(sha256)
      else {
        files[sha256] = outcome.sizeBytes
        if (outcome.isNew) newBytes += outcome.sizeBytes
      }
    }
    const { rows } = await newestMigration(db)
    const manifest: BackupManifest = {
      format: 'good-thud-backup',
      version: 1,
      at,
      database: { sha256: await hashFile(saved), sizeBytes: (await fs.promises.stat(saved)).size },
      schema: rows[0]?.name ?? '',
      ledgerHead: await ledgerHead(db),
      files,
      missing,
    }
    return { manifest, newBytes }
  } finally {
    await db.destroy()
  }
}

/** Copies a file that is not saved yet, and reads the copy back. @returns null when it is not there, or is not what its name says. */
async function saveFile(
  from: string,
  to: string,
  sha256: string,
): Promise<{ sizeBytes: number; isNew: boolean } | null> {
  const there = await fs.promises.stat(to).catch(() => null)
  const source = await fs.promises.stat(from).catch(() => null)
  if (there && (!source || source.size === there.size)) return { sizeBytes: there.size, isNew: false }
  if (!source) return null
  await fs.promises.mkdir(path.dirname(to), { recursive: true })
  const unfinished = `${to}.unfinished`
  await fs.promises.copyFile(from, unfinished, fs.constants.COPYFILE_FICLONE)
  if ((await hashFile(unfinished)) !== sha256) {
    await fs.promises.rm(unfinished, { force: true })
    return null
  }
  await fs.promises.rename(unfinished, to)
  return { sizeBytes: source.size, isNew: true }
}

/** Takes away the oldest saved states, and files that none of the others names. */
async function forgetOldest(folder: string, keepCount: number): Promise<void> {
  const names = await listSnapshots(folder)
  const old = names.slice(0, Math.max(0, names.length - keepCount))
  if (old.length === 0) return
  for (const name of old) await fs.promises.rm(path.join(folder, SNAPSHOTS, name), { recursive: true, force: true })
  const kept = new Set<string>()
  for (const name of names.slice(old.length))
    for (const sha256 of Object.keys((await readManifest(path.join(folder, SNAPSHOTS, name))).files)) kept.add(sha256)
  const top = path.join(folder, 'blobs')
  for (const entry of await fs.promises.readdir(top, { recursive: true, withFileTypes: true }))
    if (entry.isFile() && !kept.has(entry.name))
      await fs.promises.rm(path.join(entry.parentPath ?? entry.path, entry.name), { force: true })
}

/** Names of the saved states of a folder, the oldest first. */
export async function listSnapshots(folder: string): Promise<string[]> {
  const names = await fs.promises.readdir(path.join(folder, SNAPSHOTS)).catch(() => [])
  return names.filter((name) => !name.endsWith('.unfinished')).sort()
}

export function snapshotFolder(folder: string, name: string): string {
  return path.join(folder, SNAPSHOTS, name)
}

export function savedPath(folder: string, sha256: string): string {
  return path.join(folder, 'blobs', sha256.slice(0, 2), sha256)
}

/** @throws {BackupError} not-a-backup. */
export async function readManifest(snapshot: string): Promise<BackupManifest> {
  try {
    return BackupManifest.parse(JSON.parse(await fs.promises.readFile(path.join(snapshot, MANIFEST), 'utf8')))
  } catch (cause) {
    throw new BackupError('not-a-backup', messages.noSavedStateGoodThud(snapshot), { cause })
  }
}

function newestMigration(db: ReturnType<typeof openToRead>): Promise<{ rows: { name: string }[] }> {
  return sql<{ name: string }>`SELECT max(name) AS name FROM kysely_migration`.execute(db)
}
