import { removal as messages } from '../../messages/server/removal'
import type { App } from '../context'
import { type Db, nowIso } from '../database/db'
import { DomainError, notFound } from '../domain-error'
import { isInside } from '../files/is-inside'
import { requireFreeName } from '../rows/free-name'
import { WAS_NEVER_READ } from '../rows/never-read'

/**
 * Removes a folder from the sources, or disconnects a library, also one that could never be read; or brings it back. Its sounds leave the search; papers,
 * copies and what was read beside its files stay.
 *
 * @throws {DomainError} not-found, already, name-taken.
 */
export async function setSourceRemoved(
  app: Pick<App, 'db' | 'jobs'>,
  { id, removed }: { readonly id: string; readonly removed: boolean },
): Promise<void> {
  if (removed) await removeSource(app, id)
  else await bringSourceBack(app, id)
}

/** A library that was removed before anything was read of it and is asked again counts again, whatever comes of it. */
export async function countUnreadAgain(db: Db, id: string): Promise<void> {
  await db
    .updateTable('sources')
    .set({ removed_at: null })
    .where('id', '=', id)
    .where('removed_at', 'is not', null)
    .where(WAS_NEVER_READ)
    .execute()
}

async function removeSource({ db, jobs }: Pick<App, 'db' | 'jobs'>, id: string): Promise<void> {
  const at = nowIso()
  await db.transaction().execute(async (trx) => {
    const gone = await trx
      .updateTable('sources')
      .set((eb) => ({
        connected: 0,
        removed_at: at,
        // Why one could not be read says nothing of one that is not asked.
        last_error: eb.case().when(WAS_NEVER_READ).then(null).else(eb.ref('last_error')).end(),
        kind: eb.case().when('kind', '=', 'folder').then('folder-removed').else(eb.ref('kind')).end(),
      }))
      .where('id', '=', id)
      .where('kind', 'in', ['folder', 'library'])
      .where('removed_at', 'is', null)
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
      .select(WAS_NEVER_READ.as('was_never_read'))
      .where('id', '=', id)
      .where('removed_at', 'is not', null)
      .executeTakeFirst()
    if (!row) throw notFound(messages.thisSource)
    if (row.was_never_read) await requireFreeName(trx, row.name, id)
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
      .set({
        connected: row.was_never_read ? 0 : 1,
        removed_at: null,
        kind: row.kind === 'folder-removed' ? 'folder' : row.kind,
      })
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
