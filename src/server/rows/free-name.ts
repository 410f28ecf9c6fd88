import { accounts as messages } from '../../messages/server/accounts'
import type { Db } from '../database/db'
import { DomainError } from '../domain-error'
import { WAS_NEVER_READ } from './never-read'

/**
 * Two sources of one name could not be told apart in papers. A library that was removed before anything was read of it keeps no name.
 *
 * @param ownId Who may be called so. @throws {DomainError} name-taken.
 */
export async function requireFreeName(db: Db, name: string, ownId: string | null = null): Promise<void> {
  const rows = await db
    .selectFrom('sources')
    .select(['id', 'name'])
    .where(({ or, not, eb }) => or([eb('removed_at', 'is', null), not(WAS_NEVER_READ)]))
    .execute()
  if (rows.some((row) => row.id !== ownId && row.name.toLocaleLowerCase() === name.toLocaleLowerCase()))
    throw new DomainError('name-taken', messages.thereSourceCalledAlreadyGive(name))
}
