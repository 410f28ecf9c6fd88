import fs from 'node:fs'
import path from 'node:path'
import { DATABASE_NAME } from './open'
import { Sqlite } from './sqlite'

/** From this size on the log of what was written is moved into the database, bytes. */
const LOG_BYTES = 8 * 1024 * 1024

/** Whether so much was written that it should be moved into the database. */
export function isLogLong(dataDir: string): boolean {
  return (fs.statSync(path.join(dataDir, `${DATABASE_NAME}-wal`), { throwIfNoEntry: false })?.size ?? 0) > LOG_BYTES
}

/**
 * Moves what was written from the log into the database, as far as nobody reads it there; waits for no one and keeps no one waiting. For a thread of
 * its own: it takes as long as the disk does.
 *
 * @returns Pages that are in the log, and how many of them were moved.
 */
export function checkpoint(dataDir: string): { readonly pages: number; readonly moved: number } {
  const database = new Sqlite(path.join(dataDir, DATABASE_NAME), { fileMustExist: true })
  try {
    const [row] = database.pragma('wal_checkpoint(PASSIVE)') as { log: number; checkpointed: number }[]
    return { pages: row?.log ?? 0, moved: row?.checkpointed ?? 0 }
  } finally {
    database.close()
  }
}
