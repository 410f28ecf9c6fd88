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
import { shippedConnectors } from './sources/connectors'
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
  const { urls, httpPolicy } = options
  const connectors = shippedConnectors({ urls, nowMs: () => Date.now(), ...(httpPolicy ? { httpPolicy } : {}) })
  for (const { id, name, about } of connectors)
    await db
      .insertInto('sources')
      .values({ id, name, about, connected: 0, plan: '' })
      .onConflict((conflict) => conflict.column('id').doUpdateSet({ name, about }))
      .execute()
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
    connectors,
    connector(id) {
      const found = connectors.find((connector) => connector.id === id)
      if (!found) throw new DomainError('not-found', `There is no source called “${id}”.`)
      return found
    },
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
  return 'Something went wrong inside. Try again; the details are in the log.'
}
