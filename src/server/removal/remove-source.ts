import { removal as messages } from '../../messages/server/removal'
import type { App } from '../context'
import { nowIso } from '../database/db'
import { DomainError, notFound } from '../domain-error'
import { isInside } from '../files/is-inside'

/**
 * Removes a folder from the sources, or disconnects a library; or brings it back. Its sounds leave the search; papers, copies and what was read
 * beside its files stay.
 *
 * @throws {DomainError} not-found, already.
 */
export async function setSourceRemoved(
  app: Pick<App, 'db' | 'jobs'>,
  { id, removed }: { readonly id: string; readonly removed: boolean },
): Promise<void> {
  if (removed) await removeSource(app, id)
  else await bringSourceBack(app, id)
}

async function removeSource({ db, jobs }: Pick<App, 'db' | 'jobs'>, id: string): Promise<void> {
  const at = nowIso()
  await db.transaction().execute(async (trx) => {
    const gone = await trx
      .updateTable('sources')
      .set((eb) => ({
        connected: 0,
        removed_at: at,
        kind: eb.case().when('kind', '=', 'folder').then('folder-removed').else(eb.ref('kind')).end(),
      }))
      .where('id', '=', id)
      .where('kind', 'in', ['folder', 'library'])
      .where('connected', '=', 1)
      .returning('id')
      .executeTakeFirst()
    if (!gone) throw notFound(messages.thisSource)
    await trx
      .updateTable('sounds')
      .set({ withdrawn_at: at })
      .where('source_id', '=', id)
      .where('withdrawn_at', 'is', null)
      .execute()
  })
  await jobs.cancelFor(['mirror', 'scan'], id)
}

async function bringSourceBack({ db }: Pick<App, 'db'>, id: string): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const row = await trx
      .selectFrom('sources')
      .selectAll()
      .where('id', '=', id)
      .where('removed_at', 'is not', null)
      .executeTakeFirst()
    if (!row) throw notFound(messages.thisSource)
    const folder = row.folder_path
    const others = await trx
      .selectFrom('sources')
      .select(['name', 'folder_path'])
      .where('kind', '=', 'folder')
      .execute()
    const other =
      folder !== null &&
      others.find(
        ({ folder_path }) => folder_path !== null && (isInside(folder, folder_path) || isInside(folder_path, folder)),
      )
    if (other) throw new DomainError('already', messages.thisFolderThereOnceMore(other.name))
    await trx
      .updateTable('sources')
      .set({ connected: 1, removed_at: null, kind: row.kind === 'folder-removed' ? 'folder' : row.kind })
      .where('id', '=', id)
      .execute()
    await trx
      .updateTable('sounds')
      .set({ withdrawn_at: null })
      .where('source_id', '=', id)
      .where('withdrawn_at', '=', row.removed_at)
      .execute()
  })
}
