import { sql } from 'kysely'
import { LIBRARY_IDS, type LibrarySecrets } from '../../contract/library-account'
import { accounts as messages } from '../../messages/server/accounts'
import type { Db } from '../database/db'
import { readDescription } from '../described/read-description'
import { DomainError, notFound } from '../domain-error'
import type { Connector } from '../ports/connector'
import { type ConnectorTools, KNOWN_LIBRARIES, type LibraryAccess } from '../sources/connectors'
import { accountConnector, type LibraryAccount } from './account-connector'
import type { KeyFile } from './key-file'

/** Libraries that whoever starts the application has set up: where each is, and what signs us in. */
export type GivenLibraries = Readonly<Record<string, GivenLibrary>>
/** One that is not known by code comes with its description. */
export interface GivenLibrary extends LibraryAccess {
  readonly description?: string | undefined
}

interface Options {
  readonly db: Db
  readonly keys: KeyFile
  readonly given: GivenLibraries
  readonly tools: ConnectorTools
}

/** The libraries that can be asked, each by the account that it was connected with. */
export class Accounts {
  private readonly byId = new Map<string, Connector>()

  private constructor(private readonly options: Options) {}

  static async open(options: Options): Promise<Accounts> {
    const accounts = new Accounts(options)
    await accounts.setUpGiven()
    const rows = await selectAccounts(options.db).execute()
    for (const row of rows) accounts.take(row)
    return accounts
  }

  get keys(): KeyFile {
    return this.options.keys
  }

  get tools(): ConnectorTools {
    return this.options.tools
  }

  get given(): GivenLibraries {
    return this.options.given
  }

  get all(): Connector[] {
    return [...this.byId.values()]
  }

  /** @throws {DomainError} not-found for a source that is no library of ours. */
  connector(id: string): Connector {
    const found = this.byId.get(id)
    if (!found) throw new DomainError('not-found', messages.thereIsNoSourceCalled(id))
    return found
  }

  /** @throws {DomainError} not-found. */
  async find(id: string): Promise<LibraryAccount> {
    const row = await selectAccounts(this.options.db).where('id', '=', id).executeTakeFirst()
    if (!row) throw notFound(messages.thisLibrary)
    return row
  }

  /** Asks a library from here on as it is on file now. @throws {DomainError} not-found. */
  async reload(id: string): Promise<void> {
    this.take(await this.find(id))
  }

  private take(account: LibraryAccount): void {
    const { keys, given, tools } = this.options
    const known = Object.hasOwn(given, account.id) ? given[account.id]?.secrets : undefined
    try {
      this.byId.set(account.id, accountConnector(account, keys.find(account.id) ?? known ?? null, tools))
    } catch (error) {
      if (!(error instanceof DomainError)) throw error
      // The application works without; whoever asks a library is told what to do.
      this.byId.set(account.id, accountConnector(account, known ?? null, tools, error.detail))
    }
  }

  /** A library that was set up by whoever starts the application is there from the start, not yet connected. */
  private async setUpGiven(): Promise<void> {
    const { db, given, tools } = this.options
    for (const [id, access] of Object.entries(given)) {
      const values = { connected: 0, plan: '', address: access.address, ...aboutGiven(id, access, tools) }
      const { connected: _, plan: __, ...known } = values
      await db
        .insertInto('sources')
        .values({ id, ...values })
        .onConflict((conflict) => conflict.column('id').doUpdateSet(known))
        .execute()
    }
  }
}

/** @throws {DomainError} bad-description; Error for one that is neither known nor described. */
function aboutGiven(id: string, access: GivenLibrary, tools: ConnectorTools) {
  if (access.description !== undefined) {
    const description = readDescription(access.description)
    const { name, about } = description
    return { name, about, connector: 'described', description_json: JSON.stringify(description) }
  }
  const known = LIBRARY_IDS.find((one) => one === id)
  if (!known) throw new Error(`The library ${id} is not known, and there is no description of it.`)
  const { name, about } = KNOWN_LIBRARIES[known].connect(access, tools)
  return { name, about, connector: known, description_json: null }
}

function selectAccounts(db: Db) {
  return db
    .selectFrom('sources')
    .select(['id', 'name', 'about', 'connector', 'address', 'description_json', 'paused_at'])
    .where('kind', '=', 'library')
    .orderBy(sql`rowid`)
}

/** What signs us in, without what was left empty. */
export function filledSecrets(secrets: LibrarySecrets): LibrarySecrets {
  return Object.fromEntries(Object.entries(secrets).filter(([, value]) => value !== ''))
}
