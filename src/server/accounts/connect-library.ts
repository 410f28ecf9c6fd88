import type { LibraryInput, LibrarySecrets } from '../../contract/library-account'
import { firstFree } from '../../core/first-free'
import { visibleText } from '../../core/visible-text'
import { accounts as messages } from '../../messages/server/accounts'
import type { App, Services } from '../context'
import { type Db, nowIso } from '../database/db'
import { requireFreeName } from '../rows/free-name'
import { accountConnector } from './account-connector'
import { filledSecrets } from './accounts'
import { descriptionIn, requireLetIn, triedConnector } from './try-library'

/**
 * Connects a library by an account of its own, once it has let us in, and begins to read its catalogue. Several accounts of one library are sources
 * beside each other.
 *
 * @throws {DomainError} bad-description, name-taken; none when it does not let us in.
 */
export async function connectLibrary(
  app: Pick<App, 'db' | 'accounts' | 'jobs' | 'explain'>,
  input: LibraryInput,
  signal: AbortSignal,
): Promise<{ id: string; jobId: number }> {
  const { db, accounts, jobs, explain } = app
  const { of, address } = input
  const name = visibleText(input.name)
  const description = descriptionIn(input)
  const connector = triedConnector(app, input, description)
  await requireLetIn(connector, explain, signal)
  const secrets = filledSecrets(input.secrets)
  const id = await db.transaction().execute(async (trx) => {
    await requireFreeName(trx, name)
    const free = await freeId(trx, of.kind === 'known' ? of.id : (description?.id ?? 'library'))
    await trx
      .insertInto('sources')
      .values({
        id: free,
        name,
        about: visibleText(connector.about),
        connector: of.kind === 'known' ? of.id : 'described',
        address,
        description_json: description === null ? null : JSON.stringify(description),
        connected: 0,
        plan: '',
      })
      .execute()
    // Before the row is there for good: a library without its key would be of no use.
    accounts.keys.set(free, secrets)
    return free
  })
  await accounts.reload(id)
  const { job } = await jobs.enqueue('mirror', id, messages.synchronising(name))
  return { id, jobId: job.id }
}

/** Takes another key for a library, once the library has let us in by it. @throws {DomainError} not-found; none when it does not. */
export async function changeKey(
  { accounts, explain }: Pick<Services, 'accounts' | 'explain'>,
  { id, secrets, signal }: { readonly id: string; readonly secrets: LibrarySecrets; readonly signal: AbortSignal },
): Promise<void> {
  const account = await accounts.find(id)
  const filled = filledSecrets(secrets)
  await requireLetIn(accountConnector({ ...account, paused_at: null }, filled, accounts.tools), explain, signal)
  accounts.keys.set(id, filled)
  await accounts.reload(id)
}

/** Leaves a library alone for a while, or asks it again. Its sounds stay in the search. @throws {DomainError} not-found. */
export async function setPaused(
  { db, accounts, jobs }: Pick<App, 'db' | 'accounts' | 'jobs'>,
  { id, paused }: { readonly id: string; readonly paused: boolean },
): Promise<void> {
  await accounts.find(id)
  await db
    .updateTable('sources')
    .set({ paused_at: paused ? nowIso() : null })
    .where('id', '=', id)
    .execute()
  await accounts.reload(id)
  if (paused) await jobs.cancelFor(['mirror'], id)
}

async function freeId(db: Db, wanted: string): Promise<string> {
  const rows = await db.selectFrom('sources').select('id').execute()
  return firstFree(wanted, new Set(rows.map(({ id }) => id)), (number) => `${wanted}-${number}`)
}
