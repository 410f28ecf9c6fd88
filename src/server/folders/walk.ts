import fs from 'node:fs'
import path from 'node:path'
import { isSoundFile } from '../../core/formats/media-endings'
import { folders as messages } from '../../messages/server/folders'
import { DomainError } from '../domain-error'

/** A file below a folder. */
export interface FoundFile {
  /** Relative to the folder. */
  readonly path: string
  readonly sizeBytes: number
  readonly modifiedMs: number
}

const TEXTS = /^(licen[cs]e|readme|read[ _-]me|terms|copying|credits?|attribution|rights)\b.*$/i
const TEXT_ENDINGS = new Set(['', '.txt', '.md', '.html', '.htm'])
const MAX_TEXT_BYTES = 200 * 1024
const MAX_TABLE_BYTES = 20 * 1024 * 1024
const MAX_FILES = 200_000
const MAX_DEPTH = 24

/**
 * All sound files below a folder, texts that may speak of rights, and tables that may tell of the sounds. Hidden entries and links are passed by, so that nothing
 * outside the folder is read.
 *
 * @throws {DomainError} no-folder, too-many.
 */
export async function walkFolder(
  folder: string,
  signal: AbortSignal,
): Promise<{ sounds: FoundFile[]; texts: FoundFile[]; tables: FoundFile[] }> {
  const sounds: FoundFile[] = []
  const tables: FoundFile[] = []
  const texts: FoundFile[] = []
  const waiting: { relative: string; depth: number }[] = [{ relative: '', depth: 0 }]
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    signal.throwIfAborted()
    const { relative, depth } = next
    for (const entry of await listEntries(path.join(folder, relative), relative === '')) {
      const below = path.join(relative, entry.name)
      if (entry.name.startsWith('.')) continue
      if (entry.isDirectory() && depth < MAX_DEPTH) waiting.push({ relative: below, depth: depth + 1 })
      if (!entry.isFile()) continue
      const isWanted = isSoundFile(entry.name) || isText(entry.name) || isTable(entry.name)
      const file = isWanted ? await findFile(folder, below) : null
      if (file && isSoundFile(entry.name)) sounds.push(file)
      else if (file && isTable(entry.name)) {
        if (file.sizeBytes <= MAX_TABLE_BYTES) tables.push(file)
      } else if (file && file.sizeBytes <= MAX_TEXT_BYTES) texts.push(file)
      if (sounds.length > MAX_FILES) throw new DomainError('too-many', messages.thereAreMoreThanSound(MAX_FILES))
    }
  }
  const inOrder = (a: FoundFile, b: FoundFile): number => (a.path < b.path ? -1 : 1)
  return { sounds: sounds.sort(inOrder), texts: texts.sort(inOrder), tables: tables.sort(inOrder) }
}

/** Whether a file may be a table that tells of the sounds beside it. */
export function isTable(name: string): boolean {
  return /\.(csv|tsv|xlsx)$/i.test(name)
}

/** Whether a file may be a text that speaks of rights. */
export function isText(name: string): boolean {
  return TEXTS.test(name) && TEXT_ENDINGS.has(path.extname(name).toLowerCase())
}

/** A folder below that cannot be opened is passed by; the folder itself must be there. */
async function listEntries(folder: string, root: boolean): Promise<fs.Dirent[]> {
  try {
    return await fs.promises.readdir(folder, { withFileTypes: true })
  } catch (cause) {
    if (!root) return []
    throw new DomainError('no-folder', messages.folderCannotBeOpenedDisk(folder), { cause })
  }
}

/** A file that goes while the folder is looked through is passed by. */
async function findFile(folder: string, relative: string): Promise<FoundFile | null> {
  const stat = await fs.promises.stat(path.join(folder, relative)).catch(() => null)
  return stat && { path: relative, sizeBytes: stat.size, modifiedMs: Math.round(stat.mtimeMs) }
}
