import type { Db } from './db'

/** Runs database work as a whole or not at all: in the transaction that the handle is of already, else in one of its own. */
export function inTransaction<T>(db: Db, run: (trx: Db) => Promise<T>): Promise<T> {
  return db.isTransaction ? run(db) : db.transaction().execute(run)
}
