import fs from 'node:fs'
import { sql } from 'kysely'
import type { Damage, DoctorReport } from '../../contract'
import { doctor as messages } from '../../messages/server/doctor'
import { type Db, nowIso } from '../database/db'
import type { FileStore } from '../files/store'
import { verifyLedger } from '../ledger/ledger'
import { replayLedger } from '../ledger/replay'
import { listNamedFiles, listStoredFiles } from '../removal/room'
import { describeFile } from './describe-file'

/** A file that nothing names is told of, and taken away, once it has lain there for a week, ms. */
export const UNUSED_MS = 7 * 24 * 3600 * 1000
/** Damages of one kind that are told one by one. */
const TOLD_MAX = 500

interface ExamineOptions {
  readonly db: Db
  readonly store: FileStore
  /** SHA-256 of a file, read whole. */
  readonly hashOf: (file: string) => Promise<string>
  readonly nowMs: number
  readonly signal?: AbortSignal
  readonly report?: (fraction: number, message: string) => void
}

/**
 * Examines a data folder: every stored file against its hash, every file that is named, the features, the tables and the ledger.
 *
 * Changes nothing. @throws AbortError.
 */
export async function examineFolder(options: ExamineOptions): Promise<DoctorReport> {
  const { db, store } = options
  const files = await examineFiles(options)
  const features = await missingFeatures(db, store)
  const damages = [...(await examineDatabase(db)), ...files.damages, ...features.damages, ...(await examineLedger(db))]
  return { at: nowIso(), fileCount: files.count, bytes: files.bytes, damages, remaking: features.remaking }
}

async function examineFiles({
  db,
  store,
  hashOf,
  nowMs,
  signal,
  report,
}: ExamineOptions): Promise<{ damages: Damage[]; count: number; bytes: number }> {
  const named = await listNamedFiles(db)
  const stored = await listStoredFiles(store.dataDir, 'blobs')
  const there = new Set(stored.map(({ sha256 }) => sha256))
  const damages: Damage[] = []
  let bytes = 0
  for (const [at, file] of stored.entries()) {
    signal?.throwIfAborted()
    report?.(at / (stored.length + 1), messages.readingFileOf(at + 1, stored.length))
    bytes += file.bytes
    const actual = await hashOf(file.file).catch(() => null)
    const isNamed = named.has(file.sha256)
    if (actual !== file.sha256) damages.push(await changed(db, file.sha256, isNamed))
    else if (!isNamed && nowMs - file.modifiedMs > UNUSED_MS) damages.push(unused(file.sha256, file.bytes))
  }
  for (const sha256 of named.keys()) if (!there.has(sha256)) damages.push(await missing(db, sha256))
  return { damages: damages.slice(0, TOLD_MAX), count: stored.length, bytes }
}

async function changed(db: Db, sha256: string, isNamed: boolean): Promise<Damage> {
  if (!isNamed)
    return {
      kind: 'changed',
      sha256,
      sentence: `A file that nothing uses is damaged (${sha256.slice(0, 12)}).`,
      repair: 'forget',
    }
  const { name, repair } = await describeFile(db, sha256)
  return { kind: 'changed', sha256, sentence: messages.damagedContentNotWhatWas(name), repair }
}

async function missing(db: Db, sha256: string): Promise<Damage> {
  const { name, repair } = await describeFile(db, sha256)
  return { kind: 'missing', sha256, sentence: messages.isGone(name), repair }
}

function unused(sha256: string, bytes: number): Damage {
  return {
    kind: 'unused',
    sha256,
    sentence: `A file of ${Math.ceil(bytes / 1000)} KB is used by nothing (${sha256.slice(0, 12)}).`,
    repair: 'forget',
  }
}

/**
 * What hearing needs of a sound is made from its audio, and can be made again. Backups are without it; where that is queued, nothing is damaged.
 *
 * @returns What is gone, and how many are being made again.
 */
async function missingFeatures(db: Db, store: FileStore): Promise<{ damages: Damage[]; remaking: number }> {
  const rows = await db
    .selectFrom('analyses')
    .innerJoin('sound_rows', 'sound_rows.id', 'analyses.sound_id')
    .select(['audio_sha256', 'shown_title'])
    .execute()
  const queued = await db
    .selectFrom('jobs')
    .select('subject')
    .where('kind', '=', 'remake')
    .where('state', 'in', ['queued', 'running'])
    .execute()
  const underWay = new Set(queued.map(({ subject }) => subject))
  const gone = rows.filter(
    ({ audio_sha256 }) => store.has(audio_sha256) && !fs.existsSync(store.featurePath(audio_sha256)),
  )
  const damages = gone
    .filter(({ audio_sha256 }) => !underWay.has(audio_sha256))
    .slice(0, TOLD_MAX)
    .map(
      ({ audio_sha256, shown_title }): Damage => ({
        kind: 'features',
        sha256: audio_sha256,
        sentence: messages.whatHearingNeedsGone(shown_title),
        repair: 'make again',
      }),
    )
  return { damages, remaking: gone.length - gone.filter(({ audio_sha256 }) => !underWay.has(audio_sha256)).length }
}

/** The tables themselves, and whether each row that names another finds it. */
async function examineDatabase(db: Db): Promise<Damage[]> {
  const damages: Damage[] = []
  const { rows } = await sql<{ integrity_check: string }>`PRAGMA integrity_check(20)`.execute(db)
  for (const { integrity_check: words } of rows)
    if (words !== 'ok')
      damages.push({
        kind: 'database',
        sha256: null,
        sentence: messages.theDatabaseIsDamaged(words),
        repair: 'restore',
      })
  const { rows: broken } = await sql<{ table: string }>`PRAGMA foreign_key_check`.execute(db)
  for (const table of new Set(broken.map((one) => one.table)))
    damages.push({
      kind: 'database',
      sha256: null,
      sentence: messages.rowsTableNameOthersThat(table),
      repair: 'restore',
    })
  return damages
}

/** The chain, and what the tables hold against it. The files were looked through before. */
async function examineLedger(db: Db): Promise<Damage[]> {
  const { broken, entries } = await verifyLedger(db)
  const told = broken
    ? [messages.entryLedgerBrokenBeforeHold(broken.number, entries)]
    : (await replayLedger({ db, store: null })).map(({ sentence }) => sentence)
  return told.map((sentence) => ({ kind: 'ledger', sha256: null, sentence, repair: 'restore' }))
}
