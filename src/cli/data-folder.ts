import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { commands as messages } from '../messages/server/commands'
import { DataFolderError } from '../server/database/data-folder-error'
import type { Db } from '../server/database/db'
import { openDatabase } from '../server/database/open'
import { EXIT } from './exit'

/** The data folder that a command works on: as named, else from the environment, else the owner's own. */
export function dataFolder(named: string | undefined): string {
  const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..')
  return path.resolve(named ?? process.env.THUD_DATA ?? path.join(root, 'data', 'own'))
}

/** Runs something on the database of a data folder. @returns Its exit status; 1 with a message when there is no data. */
export async function withData(dataDir: string, run: (db: Db) => Promise<number>): Promise<number> {
  if (!fs.existsSync(path.join(dataDir, 'good-thud.sqlite'))) {
    console.error(messages.thereNoGoodThudData(dataDir))
    return EXIT.badInput
  }
  let db: Db
  try {
    db = await openDatabase(dataDir)
  } catch (error) {
    if (!(error instanceof DataFolderError)) throw error
    console.error(error.message)
    return EXIT.badInput
  }
  try {
    return await run(db)
  } finally {
    await db.destroy()
  }
}
