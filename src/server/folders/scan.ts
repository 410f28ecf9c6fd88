import fs from 'node:fs'
import path from 'node:path'
import type { Selectable } from 'kysely'
import { endingOf, findMime } from '../../core/formats/media-endings'
import { baseName, type TableFacts } from '../../core/formats/sound-table'
import { folders as messages } from '../../messages/server/folders'
import { analyseInto, groupRecordings } from '../analysis/listen-to-sounds'
import type { Services } from '../context'
import { storeCopy } from '../copies/acquire'
import { type Db, nowIso } from '../database/open'
import type { Schema } from '../database/schema'
import { DomainError } from '../domain-error'
import { plainFileName } from '../files/file-name'
import { hashFile } from '../files/hash-file'
import type { JobContext } from '../jobs/jobs'
import { grantDeclared } from '../papers/declare'
import { redescribeBeside } from '../rows/own-words'
import { storeTerms } from '../terms/terms-store'
import { UNKNOWN_TERMS } from '../terms/unknown-terms'
import { readNote, storeNote } from './note-text'
import { insertOwnSound } from './own-sound'
import { withUnpacked } from './packs'
import { type FileFacts, fileFacts } from './read-tags'
import { rememberFile } from './remember-file'
import { sameRecordingsInWords } from './same-recordings'
import { readSoundTables } from './sound-tables'
import { type FoundFile, walkFolder } from './walk'

/** Share of the work that looking through the folder is, for progress. */
const WALK_SHARE = 0.1

type SourceRow = Selectable<Schema['sources']>
type FileRow = Selectable<Schema['folder_files']>

/** What a scan changed. */
interface Changed {
  /** Their ids. */
  fresh: number[]
  changed: number
  moved: number
  gone: number
}

/**
 * Looks through a folder of the creator's own: new and changed files are read and listened to, moved ones are known by their content,
 * and of files that are gone the papers stay. A file that cannot be read does not stop the others.
 *
 * Safe to run again from the start: a file is written down only when it has been read.
 */
export async function scanFolder(services: Services, sourceId: string, context: JobContext): Promise<string> {
  const { db } = services
  const source = await db.selectFrom('sources').selectAll().where('id', '=', sourceId).executeTakeFirst()
  if (!source) throw new DomainError('not-found', messages.thisFolderNotSourceAny)
  try {
    const result = await scanSource(services, source, context)
    await db
      .updateTable('sources')
      .set({ last_sync_at: nowIso(), last_error: null, connected: 1, last_result: result })
      .where('id', '=', sourceId)
      .execute()
    return result
  } catch (error) {
    if (!context.signal.aborted)
      await db
        .updateTable('sources')
        .set({ last_error: services.explain(error) })
        .where('id', '=', sourceId)
        .execute()
    throw error
  }
}

function scanSource(services: Services, source: SourceRow, context: JobContext): Promise<string> {
  const { id, folder_path, pack_sha256 } = source
  if (pack_sha256 !== null)
    return withUnpacked(services, { id, pack_sha256 }, context.signal, (folder) =>
      scanFiles(services, source, folder, context),
    )
  if (folder_path !== null) return scanFiles(services, source, folder_path, context)
  throw new DomainError('no-folder', messages.allThisPackHereAlready)
}

async function scanFiles(
  services: Services,
  source: SourceRow,
  folder: string,
  { signal, report }: JobContext,
): Promise<string> {
  const { db } = services
  const { sounds: found, texts, tables } = await walkFolder(folder, signal)
  const { facts: tableFacts, unreadable: notTables } = await readSoundTables(services, folder, tables, signal)
  report(WALK_SHARE, messages.foundSoundFiles(found.length))
  const known = await db.selectFrom('folder_files').selectAll().where('source_id', '=', source.id).execute()
  const byPath = new Map(known.map((row) => [row.path, row]))
  const paths = new Set(found.map((file) => file.path))
  const lost = new Map<string, FileRow[]>()
  for (const row of known.filter(({ path: was }) => !paths.has(was)))
    lost.set(row.sha256, [...(lost.get(row.sha256) ?? []), row])
  const counted: Changed = { fresh: [], changed: 0, moved: 0, gone: 0 }
  const unreadable: string[] = [...notTables]
  for (const [index, file] of found.entries()) {
    signal.throwIfAborted()
    const row = byPath.get(file.path)
    if (row && row.size_bytes === file.sizeBytes && row.modified_ms === file.modifiedMs) continue
    try {
      const table = tableFacts.get(baseName(file.path))
      await takeInFile(services, { source, folder, file, row, table, lost, counted, signal })
    } catch (error) {
      if (signal.aborted) throw error
      unreadable.push(`${file.path}: ${services.explain(error)}`)
    }
    report(WALK_SHARE + (1 - WALK_SHARE) * ((index + 1) / found.length), messages.readOfFiles(index + 1, found.length))
  }
  counted.gone = await withdrawMissingFiles(db, source.id, [...lost.values()].flat())
  if (counted.fresh.length + counted.changed > 0) await groupRecordings(services, signal)
  await noteTexts(services, source.id, { folder, texts, signal })
  return `${inWords(counted, unreadable)}${await sameRecordingsInWords(db, source.id, counted.fresh)}`
}

function inWords({ fresh, changed, moved, gone }: Changed, unreadable: readonly string[]): string {
  const first = unreadable[0] ? `; ${unreadable.length} could not be read (${unreadable[0]})` : ''
  return messages.foundNewChangedMovedGone(fresh.length, changed, moved, gone, first)
}

async function takeInFile(
  services: Services,
  options: {
    source: SourceRow
    folder: string
    file: FoundFile
    row: FileRow | undefined
    /** What a table beside it says of it. */
    table: TableFacts | undefined
    /** Files that are not where they were, by their content. */
    lost: Map<string, FileRow[]>
    counted: Changed
    signal: AbortSignal
  },
): Promise<void> {
  const { source, folder, file, row, table, lost, counted, signal } = options
  const absolute = path.join(folder, file.path)
  const sha256 = await hashFile(absolute, signal)
  if (row?.sha256 === sha256) {
    // What was stored of it may have been lost.
    if (!services.store.has(sha256)) await copyIntoStore(services, absolute, { sha256, signal })
    // The table may tell of it in other words than before.
    if (table) await redescribe(services.db, row.sound_id, await fileFacts(absolute, file.path, table))
    return rememberFile(services.db, source.id, { file, sha256, soundId: row.sound_id })
  }
  const movedFrom = row ? undefined : lost.get(sha256)?.shift()
  const facts = await fileFacts(absolute, file.path, table)
  if (movedFrom) {
    counted.moved++
    return services.db.transaction().execute(async (trx) => {
      await trx
        .deleteFrom('folder_files')
        .where('source_id', '=', source.id)
        .where('path', '=', movedFrom.path)
        .execute()
      await redescribe(trx, movedFrom.sound_id, facts)
      await rememberFile(trx, source.id, { file, sha256, soundId: movedFrom.sound_id })
    })
  }
  const stored = await copyIntoStore(services, absolute, { sha256, signal })
  const mime = findMime(file.path) ?? 'application/octet-stream'
  const soundId = row?.sound_id ?? (await newSound(services.db, source, facts, file))
  try {
    await analyseInto(services, soundId, sha256, mime, signal)
  } catch (error) {
    // What cannot be listened to is no sound: it would be one more at each scan.
    if (!row) await services.db.deleteFrom('sounds').where('id', '=', soundId).execute()
    throw error
  }
  const note = facts.rightsText ? await readNote(facts.rightsText, services.readText) : null
  await services.db.transaction().execute(async (trx) => {
    await redescribe(trx, soundId, facts)
    await storeCopy(trx, { ...stored, mime, fileName: plainFileName(path.basename(file.path)) })
    await rememberFile(trx, source.id, { file, sha256, soundId })
    if (source.default_terms_id !== null) await defaultPapers(trx, source, { soundId, sha256 })
    if (note) await storeNote(trx, source.id, file.path, note)
  })
  if (row) counted.changed++
  else counted.fresh.push(soundId)
}

/** Papers that the creator chose for everything in a folder. */
function defaultPapers(
  trx: Db,
  source: SourceRow,
  { soundId, sha256 }: { soundId: number; sha256: string },
): Promise<void> {
  return grantDeclared(trx, {
    soundId,
    copySha256: sha256,
    termsId: source.default_terms_id as number,
    title: messages.papersOfTheFolder(source.name),
    after: '',
    event: { soundId, folder: source.name },
  })
}

async function newSound(db: Db, source: SourceRow, facts: FileFacts, file: FoundFile): Promise<number> {
  return db.transaction().execute(async (trx) => {
    const termsId = source.default_terms_id ?? (await storeTerms(trx, source.id, UNKNOWN_TERMS))
    return insertOwnSound(trx, { ...facts, sourceId: source.id, ending: endingOf(file.path), termsId })
  })
}

function described({ title, maker, description, category, words }: FileFacts) {
  return { title, maker, description, category, tags_json: JSON.stringify(words) }
}

async function redescribe(trx: Db, soundId: number, facts: FileFacts): Promise<void> {
  await trx
    .updateTable('sounds')
    .set({ ...described(facts), withdrawn_at: null, updated_at: nowIso() })
    .where('id', '=', soundId)
    .execute()
  await redescribeBeside(trx, soundId, described(facts))
}

/** Files that are no longer there: their sounds leave the search, their papers stay. */
async function withdrawMissingFiles(db: Db, sourceId: string, rows: readonly FileRow[]): Promise<number> {
  await db.transaction().execute(async (trx) => {
    for (const { path: gone, sound_id } of rows) {
      await trx.deleteFrom('folder_files').where('source_id', '=', sourceId).where('path', '=', gone).execute()
      const left = await trx
        .selectFrom('folder_files')
        .select('path')
        .where('sound_id', '=', sound_id)
        .executeTakeFirst()
      if (!left) await trx.updateTable('sounds').set({ withdrawn_at: nowIso() }).where('id', '=', sound_id).execute()
    }
  })
  return rows.length
}

async function noteTexts(
  { db, readText }: Services,
  sourceId: string,
  { folder, texts, signal }: { folder: string; texts: readonly FoundFile[]; signal: AbortSignal },
): Promise<void> {
  for (const text of texts) {
    signal.throwIfAborted()
    const read = await fs.promises.readFile(path.join(folder, text.path), 'utf8').catch(() => null)
    // It may have gone since the folder was looked through.
    if (read !== null) await storeNote(db, sourceId, text.path, await readNote(read, readText))
  }
}

/** The file itself may change or go; what papers speak of is stored. Shares the blocks where the file system can. */
async function copyIntoStore(
  { store }: Services,
  file: string,
  { sha256, signal }: { sha256: string; signal: AbortSignal },
) {
  if (store.has(sha256)) return { sha256, sizeBytes: (await fs.promises.stat(store.blobPath(sha256))).size }
  const temporary = store.temporaryPath('part')
  await fs.promises.copyFile(file, temporary, fs.constants.COPYFILE_FICLONE)
  signal.throwIfAborted()
  const stored = await store.commitTemporaryFile(temporary)
  if (stored.sha256 !== sha256) throw new DomainError('changing', messages.fileBeingWrittenScanAgain)
  return stored
}
