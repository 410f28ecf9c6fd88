import { setTimeout } from 'node:timers/promises'
import {
  type CompiledQuery,
  type DatabaseConnection,
  type Driver,
  type QueryResult,
  type SqliteDatabase,
  SqliteDialect,
  type TransactionSettings,
} from 'kysely'
import { type Sqlite, SqliteError } from './sqlite'

/** Between two tries, ms: shorter than what the threads that write leave between two pieces. */
const AGAIN_MS = 2
/** After so long it is waited for in place, where SQLite's own turns are shorter than ours, ms. */
const PATIENCE_MS = 2_000

/**
 * SQLite through Kysely, where what finds another thread writing is tried again a little later instead of waiting in place: meanwhile this thread answers
 * requests, and other queries have the connection. Transactions take the right to write at their start; one that had read before it wrote would be refused
 * where another thread wrote in between.
 */
export class WaitingDialect extends SqliteDialect {
  constructor(
    private readonly sqlite: Sqlite,
    database: SqliteDatabase,
  ) {
    super({ database })
  }

  override createDriver(): Driver {
    return new WaitingDriver(super.createDriver(), this.sqlite)
  }
}

class WaitingDriver implements Driver {
  constructor(
    private readonly driver: Driver,
    private readonly sqlite: Sqlite,
  ) {}

  init(): Promise<void> {
    return this.driver.init()
  }

  async acquireConnection(): Promise<DatabaseConnection> {
    return new WaitingConnection(await this.driver.acquireConnection(), this.driver, this.sqlite)
  }

  async beginTransaction(connection: DatabaseConnection, settings: TransactionSettings): Promise<void> {
    if (connection instanceof WaitingConnection)
      await connection.whenFree(() => this.driver.beginTransaction(connection.inner, settings))
  }

  commitTransaction(connection: DatabaseConnection): Promise<void> {
    return this.driver.commitTransaction(connection)
  }

  rollbackTransaction(connection: DatabaseConnection): Promise<void> {
    return this.driver.rollbackTransaction(connection)
  }

  savepoint: Driver['savepoint'] = (...given) => this.driver.savepoint?.(...given) ?? Promise.resolve()
  rollbackToSavepoint: Driver['rollbackToSavepoint'] = (...given) =>
    this.driver.rollbackToSavepoint?.(...given) ?? Promise.resolve()
  releaseSavepoint: Driver['releaseSavepoint'] = (...given) =>
    this.driver.releaseSavepoint?.(...given) ?? Promise.resolve()

  releaseConnection(connection: DatabaseConnection): Promise<void> {
    return this.driver.releaseConnection(connection)
  }

  destroy(): Promise<void> {
    return this.driver.destroy()
  }
}

class WaitingConnection implements DatabaseConnection {
  /** What was set on it holds for what comes next: from then on it is not lent to others while it waits. */
  private isUsed = false

  constructor(
    readonly inner: DatabaseConnection,
    private readonly driver: Driver,
    private readonly sqlite: Sqlite,
  ) {}

  executeQuery<R>(query: CompiledQuery): Promise<QueryResult<R>> {
    const act = () => this.inner.executeQuery<R>(query)
    // What only reads finds the database as it was before the other writes.
    return query.query.kind === 'SelectQueryNode' ? this.inPlace(act) : this.whenFree(act)
  }

  streamQuery<R>(query: CompiledQuery, chunkSize?: number): AsyncIterableIterator<QueryResult<R>> {
    this.isUsed = true
    return this.inner.streamQuery<R>(query, chunkSize)
  }

  private inPlace<T>(act: () => Promise<T>): Promise<T> {
    this.isUsed = true
    return act()
  }

  /** Does what may find another thread writing: nothing of it is done then, so that it can be done anew. It runs its one statement before it gives its promise. */
  async whenFree<T>(act: () => Promise<T>): Promise<T> {
    if (this.sqlite.inTransaction) return act()
    const untilMs = performance.now() + PATIENCE_MS
    while (performance.now() < untilMs) {
      const lends = !this.isUsed
      try {
        const done = await this.sqlite.withoutWaiting(act)
        this.isUsed = true
        return done
      } catch (error) {
        if (!(error instanceof SqliteError) || error.code !== 'SQLITE_BUSY') throw error
      }
      // There is one connection to a file, and it is the same one when it comes back.
      if (lends) await this.driver.releaseConnection(this.inner)
      await setTimeout(AGAIN_MS)
      if (lends) await this.driver.acquireConnection()
    }
    return this.inPlace(act)
  }
}
