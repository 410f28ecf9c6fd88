import fs from 'node:fs'
import path from 'node:path'
import { DATABASE_NAME } from './open'
import { Sqlite } from './sqlite'

/** Size of the log of what was written, bytes. */
export function logBytes(dataDir: string): number {
  return fs.statSync(path.join(dataDir, `${DATABASE_NAME}-wal`), { throwIfNoEntry: false })?.size ?? 0
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
