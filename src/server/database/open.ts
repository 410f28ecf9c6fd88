import fs from 'node:fs'
import path from 'node:path'
import { Kysely, Migrator, type SqliteDatabase } from 'kysely'
import { database as messages } from '../../messages/server/database'
import { DataFolderError } from './data-folder-error'
import { type Db, nowIso } from './db'
import { foundation } from './migrations/0001-foundation'
import { hearing } from './migrations/0002-hearing'
import { ledger } from './migrations/0003-ledger'
import { papers } from './migrations/0004-papers'
import { finding } from './migrations/0005-finding'
import { downloads } from './migrations/0006-downloads'
import { facts } from './migrations/0007-facts'
import { soundRows } from './migrations/0008-sound-rows'
import { labels } from './migrations/0009-labels'
import { readings } from './migrations/0010-readings'
import { noRemoval } from './migrations/0011-no-removal'
import { pieces } from './migrations/0012-pieces'
import { wordsBeside } from './migrations/0013-words-beside'
import { moneyRecords } from './migrations/0014-money'
import { generations } from './migrations/0015-generations'
import { moments } from './migrations/0016-moments'
import { scores } from './migrations/0017-scores'
import { mixFormats } from './migrations/0018-mix-formats'
import { films } from './migrations/0019-films'
import { termsInUse } from './migrations/0020-terms-in-use'
import { accounts } from './migrations/0021-accounts'
import { packedStage } from './migrations/0022-packed-stage'
import { liveSeen } from './migrations/0023-live-seen'
import { packs } from './migrations/0024-packs'
import { ownWords } from './migrations/0025-own-words'
import { choices } from './migrations/0026-choices'
import { comparisons } from './migrations/0027-comparisons'
import { possibleFinds } from './migrations/0028-possible-finds'
import { sumsAnew } from './migrations/0029-sums-anew'
import { excerpts } from './migrations/0030-excerpts'
import { listed } from './migrations/0031-listed'
import { placed } from './migrations/0032-placed'
import type { Schema } from './schema'
import { Sqlite, SqliteError, type Statement } from './sqlite'
import { WaitingDialect } from './waiting-dialect'

export { type Db, dayOf, nowIso, todayIso } from './db'

const MIGRATIONS = {
  '0001-foundation': { up: foundation },
  '0002-hearing': { up: hearing },
  '0003-ledger': { up: ledger },
  '0004-papers': { up: papers },
  '0005-finding': { up: finding },
  '0006-downloads': { up: downloads },
  '0007-facts': { up: facts },
  '0008-sound-rows': { up: soundRows },
  '0009-labels': { up: labels },
  '0010-readings': { up: readings },
  '0011-no-removal': { up: noRemoval },
  '0012-pieces': { up: pieces },
  '0013-words-beside': { up: wordsBeside },
  '0014-money': { up: moneyRecords },
  '0015-generations': { up: generations },
  '0016-moments': { up: moments },
  '0017-scores': { up: scores },
  '0018-mix-formats': { up: mixFormats },
  '0019-films': { up: films },
  '0020-terms-in-use': { up: termsInUse },
  '0021-accounts': { up: accounts },
  '0022-packed-stage': { up: packedStage },
  '0023-live-seen': { up: liveSeen },
  '0024-packs': { up: packs },
  '0025-own-words': { up: ownWords },
  '0026-choices': { up: choices },
  '0027-comparisons': { up: comparisons },
  '0028-possible-finds': { up: possibleFinds },
  '0029-sums-anew': { up: sumsAnew },
  '0030-excerpts': { up: excerpts },
  '0031-listed': { up: listed },
  '0032-placed': { up: placed },
}

/** A page of results reads a hundred rows from all over the catalogue: it must not go to the disk for each. */
const CACHE_KB = 64 * 1024
const MAPPED_BYTES = 2 ** 26
/** Name of the database in a data folder. */
export const DATABASE_NAME = 'good-thud.sqlite'
/** What was written is moved into the database by a thread of its own long before this, pages of 4 KB. */
const CHECKPOINT_PAGES = 50_000
/** A log that begins anew is cut to this, so that its size tells how much is in it. */
const LOG_KEPT_BYTES = 4 * 1024 * 1024

/** Prepared statements that are cached; a search makes half a dozen, and making them costs more than running them. */
const MAX_CACHED_STATEMENTS = 300

/** Gives the statement that was made for the same text before. Kysely runs each to its end at once, so none is in use twice. */
function withCachedStatements(database: Sqlite, onSlow?: SlowListener): SqliteDatabase {
  const cached = new Map<string, Statement>()
  const prepared = (text: string): Statement => {
    const made = onSlow ? timed(database.prepare(begun(text)), text, onSlow) : database.prepare(begun(text))
    return text === 'rollback' ? endOfTransaction(database, made) : made
  }
  return {
    close: () => database.close(),
    prepare(text) {
      // Some settings are made while their text is read, not when it is run; such a statement is not kept, and none is left behind.
      if (SETTING.test(text)) return setting(database, text)
      const known = cached.get(text)
      if (known) {
        cached.delete(text)
        cached.set(text, known)
        return known
      }
      const made = prepared(text)
      const [oldest] = cached
      if (cached.size >= MAX_CACHED_STATEMENTS && oldest) cached.delete(oldest[0])
      cached.set(text, made)
      return made
    },
  }
}

const SETTING = /^PRAGMA \w+ = /

function setting(database: Sqlite, text: string): Statement {
  const set = (): void => database.exec(text)
  return {
    reader: false,
    all: () => {
      set()
      return []
    },
    iterate: () => {
      set()
      return [].values()
    },
    run: () => {
      set()
      return { changes: 0, lastInsertRowid: 0 }
    },
  }
}

/**
 * A transaction waits at its start for a thread that is writing: one that had read before it wrote would be refused where the thread wrote in between.
 */
function begun(text: string): string {
  return text === 'begin' ? 'begin immediate' : text
}

/** Is told of a statement that kept everyone waiting. */
type SlowListener = (text: string, tookMs: number) => void
/** A statement that takes longer is told of, ms. */
const SLOW_MS = 150

function timed(statement: Statement, text: string, onSlow: SlowListener): Statement {
  const watched =
    <A extends unknown[], R>(act: (...given: A) => R) =>
    (...given: A): R => {
      const startMs = performance.now()
      try {
        return act(...given)
      } finally {
        const tookMs = performance.now() - startMs
        if (tookMs > SLOW_MS) onSlow(text, tookMs)
      }
    }
  return { ...statement, all: watched(statement.all), run: watched(statement.run) }
}

/** A transaction that SQLite has ended by itself, as where the disk is full, is not ended again: what it failed of is what is told. */
function endOfTransaction(database: Sqlite, rollback: Statement): Statement {
  const nothing = { changes: 0, lastInsertRowid: 0 }
  return { ...rollback, run: () => (database.inTransaction ? rollback.run() : nothing) }
}

/** Opens the database of a data folder to read only; it must be at the newest schema. */
export function openToRead(dataDir: string): Db {
  const database = new Sqlite(path.join(dataDir, DATABASE_NAME), { readonly: true })
  return new Kysely<Schema>({ dialect: new WaitingDialect(database, withCachedStatements(database)) })
}

/** Opens the database of a data folder that is open already, for a thread that writes to it by itself. */
export function openToWrite(dataDir: string): Db {
  const database = openedWhole(path.join(dataDir, DATABASE_NAME))
  return new Kysely<Schema>({ dialect: new WaitingDialect(database, withCachedStatements(database)) })
}

/**
 * Opens the database of a data folder and brings it to the newest schema. Before a schema is changed, a copy of the database is kept.
 *
 * @throws {DataFolderError} newer, damaged, no-database; Error naming the migration that failed: the database is left at the last good one.
 */
export async function openDatabase(dataDir: string, onSlow?: SlowListener): Promise<Db> {
  fs.mkdirSync(dataDir, { recursive: true })
  requireDatabase(dataDir)
  const file = path.join(dataDir, DATABASE_NAME)
  const sqlite = openedWhole(file)
  await keepBeforeChange(sqlite, dataDir)
  const db = new Kysely<Schema>({ dialect: new WaitingDialect(sqlite, withCachedStatements(sqlite, onSlow)) })
  const migrator = new Migrator({ db, provider: { getMigrations: async () => MIGRATIONS } })
  const { error, results } = await migrator.migrateToLatest()
  if (error) {
    const failed =
      results?.find((result) => result.status === 'Error')?.migrationName ?? messages.beforeTheFirstMigration
    await db.destroy()
    throw new Error(`The database could not be brought up to date (${failed}).`, { cause: error })
  }
  return db
}

/** @throws {DataFolderError} no-database: files lie there, and what they belong to does not. */
function requireDatabase(dataDir: string): void {
  const size = fs.statSync(path.join(dataDir, DATABASE_NAME), { throwIfNoEntry: false })?.size ?? 0
  const blobs = path.join(dataDir, 'blobs')
  if (size > 0 || !fs.existsSync(blobs) || fs.readdirSync(blobs).length === 0) return
  throw new DataFolderError('no-database', messages.holdsFilesGoodThudAnd(dataDir, DATABASE_NAME))
}

/** @throws {DataFolderError} damaged, newer. */
function openedWhole(file: string): Sqlite {
  const sqlite = new Sqlite(file)
  try {
    sqlite.pragma('journal_mode = WAL')
    sqlite.pragma('foreign_keys = ON')
    // A row that is written over is seen by the triggers that keep it.
    sqlite.pragma('recursive_triggers = ON')
    sqlite.pragma('synchronous = FULL')
    sqlite.pragma(`cache_size = -${CACHE_KB}`)
    sqlite.pragma(`mmap_size = ${MAPPED_BYTES}`)
    sqlite.pragma(`wal_autocheckpoint = ${CHECKPOINT_PAGES}`)
    sqlite.pragma(`journal_size_limit = ${LOG_KEPT_BYTES}`)
    const unknown = doneMigrations(sqlite).find((name) => !(name in MIGRATIONS))
    if (unknown !== undefined)
      throw new DataFolderError(
        'newer',
        `${file} was written by a newer Good Thud (${unknown}). Update this one; the data are left as they are.`,
      )
    return sqlite
  } catch (error) {
    sqlite.close()
    const code = error instanceof SqliteError ? error.code : ''
    if (code !== 'SQLITE_CORRUPT' && code !== 'SQLITE_NOTADB') throw error
    throw new DataFolderError('damaged', messages.damagedKeepAsAndBring(file), { cause: error })
  }
}

function doneMigrations(sqlite: Sqlite): string[] {
  const table = sqlite.prepare(`SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'kysely_migration'`).all()
  if (table.length === 0) return []
  return (sqlite.prepare('SELECT name FROM kysely_migration').all() as { name: string }[]).map(({ name }) => name)
}

/** Copies that are kept of databases as they were before a change of the schema. */
const KEPT_COPIES = 3

/** Keeps a copy of a database that is about to be changed. */
async function keepBeforeChange(sqlite: Sqlite, dataDir: string): Promise<void> {
  const done = doneMigrations(sqlite)
  const next = Object.keys(MIGRATIONS).find((name) => !done.includes(name))
  if (done.length === 0 || next === undefined) return
  const folder = path.join(dataDir, 'before-update')
  fs.mkdirSync(folder, { recursive: true })
  const copy = path.join(folder, `${nowIso().slice(0, 10)} before ${next}.sqlite`)
  await sqlite.copyTo(`${copy}.part`)
  fs.renameSync(`${copy}.part`, copy)
  const copies = fs.readdirSync(folder).sort()
  for (const old of copies.slice(0, Math.max(0, copies.length - KEPT_COPIES))) fs.rmSync(path.join(folder, old))
}
