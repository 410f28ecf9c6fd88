import type { Accounts, GivenLibraries } from './accounts/accounts'
import type { Db } from './database/open'
import type { FileStore } from './files/store'
import type { SoundFinder } from './finding/sound-finder'
import type { Jobs } from './jobs/jobs'
import type { Connector } from './ports/connector'
import type { ListensLive, SearchesLive } from './ports/live'
import type { CountSounds } from './sources/sound-counter'
import type { HttpPolicy } from './sources/source-http'
import type { ReadText } from './terms/read-text'
import type { Checkpoints } from './workers/checkpoints'
import type { Pool } from './workers/pool'

/** What the server's functions work with. */
export interface Services {
  readonly db: Db
  /** Who writes much lets them catch up now and then. */
  readonly checkpoints: Pick<Checkpoints, 'catchUp' | 'settle'>
  readonly store: FileStore
  readonly pool: Pool
  /** A thread of its own for what someone waits for: long work cannot keep it busy. */
  readonly interactivePool: Pool
  /** What a text says of rights, read in a thread of its own with a limit of time. */
  readonly readText: ReadText
  readonly finder: SoundFinder
  /** How many sounds each source offers. */
  readonly countSounds: CountSounds
  /** The vocabulary with the creator's own lines, as they are now. */
  vocabulary(): string
  readonly accounts: Accounts
  /** @throws {DomainError} not-found for a source that is not set up. */
  connector(id: string): Connector
  /** Why something failed, in a sentence for people. */
  explain(error: unknown): string
  close(): Promise<void>
}

/** Threads that long work and short work is done in. */
export interface Pools {
  readonly pool: Pool
  readonly interactivePool: Pool
}

export interface ServiceOptions {
  readonly dataDir: string
  /** Folder of the built worker. */
  readonly nodeDir: string
  /** Libraries that are there from the start. */
  readonly libraries: GivenLibraries
  readonly httpPolicy?: HttpPolicy
  /** A module with a `preparation` that an empty folder is filled by, as the demo's is. */
  readonly preparedBy?: string
  /** Threads of the caller, who opens several folders and ends the threads himself. Without them there are own ones. */
  readonly pools?: Pools
}

/** Services and the queue that works on them. */
export interface App extends Services {
  readonly jobs: Jobs
  readonly live: SearchesLive
  readonly liveListener: ListensLive
}
