import { type Db, openDatabase } from './database/open'
import { FileStore } from './files/store'
import { openFinder, vocabularyText } from './finding/open-finder'
import type { SoundFinder } from './finding/sound-finder'
import { MediaError } from './media/decoder'
import { ProblemError } from './problem-error'
import { type Connector, SourceError } from './sources/connector'
import { type LibraryId, shippedConnectors } from './sources/connectors'
import type { Manners } from './sources/source-http'
import { createPool, type Pool, TaskError } from './workers/pool'

/** What the server's functions work with. */
export interface Services {
  readonly db: Db
  readonly store: FileStore
  readonly pool: Pool
  readonly finder: SoundFinder
  /** The vocabulary with the creator's own lines, as they are now. */
  vocabulary(): string
  readonly connectors: readonly Connector[]
  /** @throws {ProblemError} not-found for a source that is not set up. */
  connector(id: string): Connector
  /** Why something failed, in a sentence for people. */
  explain(error: unknown): string
  close(): Promise<void>
}

export interface ServiceOptions {
  readonly dataDir: string
  /** Folder of the built worker. */
  readonly nodeDir: string
  readonly urls: Readonly<Record<LibraryId, string>>
  readonly manners?: Manners
}

/** Opens the data folder and sets up everything that works on it. */
export async function openServices(options: ServiceOptions): Promise<Services> {
  const db = await openDatabase(options.dataDir)
  const { urls, manners } = options
  const connectors = shippedConnectors({ urls, nowMs: () => Date.now(), ...(manners ? { manners } : {}) })
  for (const { id, name, about } of connectors)
    await db
      .insertInto('sources')
      .values({ id, name, about, connected: 0, plan: '' })
      .onConflict((conflict) => conflict.column('id').doUpdateSet({ name, about }))
      .execute()
  const pool = createPool(options.nodeDir)
  const finder = await openFinder(db, options)
  return {
    db,
    store: new FileStore(options.dataDir),
    pool,
    finder,
    vocabulary: () => vocabularyText(options),
    connectors,
    connector(id) {
      const found = connectors.find((connector) => connector.id === id)
      if (!found) throw new ProblemError(404, 'not-found', `There is no source called “${id}”.`)
      return found
    },
    explain,
    async close() {
      await finder.close()
      await pool.destroy()
      await db.destroy()
    },
  }
}

function explain(error: unknown): string {
  if (error instanceof ProblemError) return error.detail
  if (error instanceof SourceError || error instanceof MediaError) return error.message
  if (error instanceof TaskError) return `Something went wrong inside (${error.message}). Try again.`
  if (error instanceof Error && 'code' in error && error.code === 'ENOSPC')
    return 'The disk is full. Make room and try again; nothing was lost.'
  return 'Something went wrong inside. Try again; the details are in the log.'
}
