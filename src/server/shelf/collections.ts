import { shelf as messages } from '../../messages/server/shelf'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError, notFound } from '../domain-error'

/** @returns Its id. @throws {DomainError} name-taken. */
export async function makeCollection({ db }: Pick<Services, 'db'>, name: string): Promise<number> {
  await requireFreeName(db, name, null)
  const { last } = await db
    .selectFrom('collections')
    .select((eb) => eb.fn.max('position').as('last'))
    .executeTakeFirstOrThrow()
  const { id } = await db
    .insertInto('collections')
    .values({ name, position: (last ?? 0) + 1 })
    .returning('id')
    .executeTakeFirstOrThrow()
  return id
}

/** Renames a collection, or puts it before another. @throws {DomainError} not-found, name-taken. */
export async function changeCollection(
  { db }: Pick<Services, 'db'>,
  id: number,
  change: { name?: string | undefined; beforeId?: number | null | undefined },
): Promise<void> {
  const rows = await db.selectFrom('collections').select('id').orderBy('position').execute()
  if (!rows.some((row) => row.id === id)) throw notFound(messages.thisCollection)
  if (change.name !== undefined) {
    await requireFreeName(db, change.name, id)
    await db.updateTable('collections').set({ name: change.name }).where('id', '=', id).execute()
  }
  if (change.beforeId === undefined) return
  const rest = rows.map((row) => row.id).filter((one) => one !== id)
  const at = change.beforeId === null ? rest.length : rest.indexOf(change.beforeId)
  const order = [...rest.slice(0, Math.max(0, at)), id, ...rest.slice(Math.max(0, at))]
  await db.transaction().execute(async (trx) => {
    for (const [position, one] of order.entries())
      await trx.updateTable('collections').set({ position }).where('id', '=', one).execute()
  })
}

/** Takes a collection away; its sounds stay kept. */
export async function endCollection({ db }: Pick<Services, 'db'>, id: number): Promise<void> {
  await db.deleteFrom('collections').where('id', '=', id).execute()
}

async function requireFreeName(db: Db, name: string, except: number | null): Promise<void> {
  const taken = await db.selectFrom('collections').select('id').where('name', '=', name).executeTakeFirst()
  if (taken && taken.id !== except)
    throw new DomainError('name-taken', messages.thereCollectionCalledAlreadyChoose(name))
}
