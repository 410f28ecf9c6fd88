import { sql } from 'kysely'
import type { Db } from './db'

/**
 * A transaction whose end is not waited for until it is on the disk, for the many small ones of a long job. It is whole or not at all as any other; a cut
 * of power may take the last of them back, and each transaction that follows as usual puts all that were before it on the disk too.
 */
export function unhurriedTransaction<T>(db: Db, run: (trx: Db) => Promise<T>): Promise<T> {
  return db.connection().execute(async (connection) => {
    await sql`PRAGMA synchronous = NORMAL`.execute(connection)
    try {
      return await connection.transaction().execute(run)
    } finally {
      await sql`PRAGMA synchronous = FULL`.execute(connection)
    }
  })
}
