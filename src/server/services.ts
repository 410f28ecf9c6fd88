import { application as messages } from '../messages/server/application'
import { Accounts } from './accounts/accounts'
import { KeyFile } from './accounts/key-file'
import { BackupError } from './backup/manifest'
import type { ServiceOptions, Services } from './context'
import { lockFolder } from './database/folder-lock'
import { openDatabase } from './database/open'
import { DomainError } from './domain-error'
import { DISK_FULL, isDiskFull } from './files/disk-full'
import { FileStore } from './files/store'
import { openFinder, vocabularyText } from './finding/open-finder'
import { loopMonitor } from './loop-monitor'
import { MediaError } from './media/decoder'
import { SourceError } from './ports/connector'
import { soundCounter } from './sources/sound-counter'
import { textReader } from './terms/read-text'
import { Checkpoints } from './workers/checkpoints'
import { createPools, TaskError } from './workers/pool'

/** Opens the data folder and sets up everything that works on it. */
export async function openServices(options: ServiceOptions): Promise<Services> {
  const unlock = await lockFolder(options.dataDir)
  const db = await openDatabase(options.dataDir, (text, tookMs) => loopMonitor().sayOfStatement(text, tookMs)).catch(
    async (error: unknown) => {
      await unlock()
      throw error
    },
  )
  const { libraries: given, httpPolicy } = options
  const keys = new KeyFile(options.dataDir)
  const tools = { nowMs: () => Date.now(), ...(httpPolicy && { httpPolicy }) }
  const accounts = await Accounts.open({ db, keys, given, tools })
  const { pool, interactivePool } = options.pools ?? createPools(options.nodeDir)
  const finder = await openFinder(db, options)
  const checkpoints = new Checkpoints(options.dataDir, interactivePool)
  return {
    db,
    checkpoints,
    store: new FileStore(options.dataDir),
    pool,
    interactivePool,
    readText: textReader(interactivePool),
    finder,
    countSounds: soundCounter(db, options.dataDir, interactivePool),
    vocabulary: () => vocabularyText(options),
    accounts,
    connector: (id) => accounts.connector(id),
    explain,
    async close() {
      checkpoints.end()
      await finder.close()
      if (!options.pools) await Promise.all([pool.destroy(), interactivePool.destroy()])
      await db.destroy()
      await unlock()
    },
  }
}

function explain(error: unknown): string {
  if (error instanceof DomainError) return error.detail
  if (isDiskFull(error)) return DISK_FULL
  if (error instanceof SourceError || error instanceof MediaError || error instanceof BackupError) return error.message
  if (error instanceof TaskError) return `Something went wrong inside (${error.message}). Try again.`
  return messages.somethingWentWrongInsideTry
}
