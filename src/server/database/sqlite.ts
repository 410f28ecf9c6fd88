import fs from 'node:fs'
import path from 'node:path'
import { backup, DatabaseSync, type StatementSyncInstance } from '@photostructure/sqlite'

/** Long enough for another process of ours (the seed, the command line) to finish its transaction. */
const BUSY_TIMEOUT_MS = 10_000

/** The results of SQLite that something is decided by, by number and by the words that it has for them (https://sqlite.org/rescode.html). */
const RESULTS: readonly (readonly [number, string, string])[] = [
  [5, 'SQLITE_BUSY', 'database is locked'],
  [10, 'SQLITE_IOERR', 'disk I/O error'],
  [11, 'SQLITE_CORRUPT', 'database disk image is malformed'],
  [13, 'SQLITE_FULL', 'database or disk is full'],
  [14, 'SQLITE_CANTOPEN', 'unable to open database file'],
  [19, 'SQLITE_CONSTRAINT', 'constraint failed'],
  [26, 'SQLITE_NOTADB', 'file is not a database'],
  [778, 'SQLITE_IOERR_WRITE', ''],
  [4874, 'SQLITE_IOERR_SHMSIZE', ''],
]
const LOW_BYTE = 0xff
/** With less room than this what cannot be read or written is put down to the full disk, bytes. */
const NO_ROOM_BYTES = 1024 * 1024

/** What SQLite refused, with the name of its result as `code`. */
export class SqliteError extends Error {
  override readonly name = 'SqliteError'
  constructor(
    message: string,
    readonly code: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}

/** One prepared statement. Blobs come as Buffers. */
export interface Statement {
  /** Whether it gives rows. */
  readonly reader: boolean
  all(parameters?: readonly unknown[]): unknown[]
  iterate(parameters?: readonly unknown[]): IterableIterator<unknown>
  run(parameters?: readonly unknown[]): { changes: number | bigint; lastInsertRowid: number | bigint }
}

export interface SqliteOptions {
  readonly readonly?: boolean
  /** Nothing is made where no file is; by default for reading only. */
  readonly fileMustExist?: boolean
}

type Row = Record<string, unknown>

/** A database file, through the one driver that this application has. */
export class Sqlite {
  private readonly database: InstanceType<typeof DatabaseSync>

  /** @throws {SqliteError} SQLITE_CANTOPEN, where nothing is that must be there. */
  constructor(
    private readonly file: string,
    { readonly: readOnly = false, fileMustExist = readOnly }: SqliteOptions = {},
  ) {
    if (fileMustExist && !fs.existsSync(file)) throw new SqliteError(`There is no database ${file}.`, 'SQLITE_CANTOPEN')
    this.database = this.told(() => new DatabaseSync(file, { readOnly, timeout: BUSY_TIMEOUT_MS }))
  }

  /** Whether a transaction is open: SQLite ends it by itself when it cannot write. */
  get inTransaction(): boolean {
    return this.database.isTransaction
  }

  prepare(text: string): Statement {
    return this.statement(this.told(() => this.database.prepare(text)))
  }

  /**
   * Runs something at once or not at all.
   *
   * @throws {SqliteError} SQLITE_BUSY, where another thread or process writes.
   */
  withoutWaiting<T>(act: () => T): T {
    this.database.exec('PRAGMA busy_timeout = 0')
    try {
      return act()
    } finally {
      this.database.exec(`PRAGMA busy_timeout = ${BUSY_TIMEOUT_MS}`)
    }
  }

  /** Runs statements that give nothing. */
  exec(text: string): void {
    this.told(() => this.database.exec(text))
  }

  /** @param words What stands behind PRAGMA. @returns Its rows. */
  pragma(words: string): unknown[] {
    return this.prepare(`PRAGMA ${words}`).all()
  }

  /**
   * Copies the whole database while it may be written to.
   *
   * @param pagesPerStep After so many pages others get their turn.
   */
  async copyTo(file: string, pagesPerStep = 100): Promise<void> {
    try {
      await backup(this.database, file, { rate: pagesPerStep })
    } catch (error) {
      throw this.named(error)
    }
  }

  /**
   * The driver ends a connection only once its statements are collected as garbage, which may be never where little else happens: the pages that it
   * holds are given back at once.
   */
  close(): void {
    try {
      this.database.exec('PRAGMA shrink_memory')
    } catch {
      // Of a damaged file, or in the middle of a transaction, it is closed as it is.
    }
    this.database.close()
  }

  private statement(statement: StatementSyncInstance): Statement {
    const columns = statement.columns()
    const blobs = columns.filter(({ type }) => type === null || /blob/i.test(type)).map(({ name }) => name)
    const rowsOf = (rows: Iterable<unknown>) => rows as Iterable<Row> & Row[]
    return {
      reader: columns.length > 0,
      all: (parameters = []) => {
        const rows = rowsOf(this.told(() => statement.all(...parameters)))
        for (const row of rows) withBuffers(row, blobs)
        return rows
      },
      *iterate(parameters = []) {
        for (const row of rowsOf(statement.iterate(...parameters))) {
          withBuffers(row, blobs)
          yield row
        }
      },
      run: (parameters = []) => this.told(() => statement.run(...parameters)),
    }
  }

  private told<T>(act: () => T): T {
    try {
      return act()
    } catch (error) {
      throw this.named(error)
    }
  }

  /** An error of the driver with the name of SQLite's result; any other as it is. The driver gives the number only of some calls. */
  private named(error: unknown): unknown {
    if (!(error instanceof Error) || !('code' in error) || error.code !== 'ERR_SQLITE_ERROR') return error
    const errcode = 'errcode' in error && typeof error.errcode === 'number' ? error.errcode : null
    const [, code = 'SQLITE_ERROR'] =
      RESULTS.find(([number]) => number === errcode) ??
      RESULTS.find(([number, , words]) =>
        errcode === null ? words === error.message : number === (errcode & LOW_BYTE),
      ) ??
      []
    const isFull = code === 'SQLITE_IOERR' && this.hasNoRoom()
    return new SqliteError(error.message, isFull ? 'SQLITE_FULL' : code, { cause: error })
  }

  private hasNoRoom(): boolean {
    const { bavail, bsize } = fs.statfsSync(path.dirname(this.file))
    return bavail * bsize < NO_ROOM_BYTES
  }
}

function withBuffers(row: Row, names: readonly string[]): void {
  for (const name of names) {
    const value = row[name]
    if (value instanceof Uint8Array) row[name] = Buffer.from(value.buffer, value.byteOffset, value.byteLength)
  }
}
