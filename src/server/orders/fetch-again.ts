import { orders as messages } from '../../messages/server/orders'
import type { App } from '../context'
import { startDownload } from '../copies/start-download'
import { DomainError } from '../domain-error'
import { finishOrder } from './orders'

/**
 * Fetches a copy again whose file was lost. What was bought comes by its order, and is not paid again.
 *
 * @throws {DomainError} no-copy, nothing-to-do; what a download throws.
 */
export async function fetchCopyAgain(app: App, soundId: number): Promise<{ jobId: number | null; already: boolean }> {
  const grant = await app.db
    .selectFrom('active_grants')
    .leftJoin('orders', 'orders.grant_id', 'active_grants.id')
    .select(['copy_sha256', 'active_grants.kind', 'orders.id as order_id'])
    .where('active_grants.sound_id', '=', soundId)
    .orderBy('active_grants.id', 'desc')
    .executeTakeFirst()
  if (!grant) throw new DomainError('no-copy', messages.thereAreNoPapersFor)
  if (app.store.has(grant.copy_sha256)) throw new DomainError('nothing-to-do', messages.theCopyIsHere)
  if (grant.order_id !== null) return finishOrder(app, grant.order_id)
  if (grant.kind === 'purchase') throw new DomainError('no-copy', messages.orderThisPurchaseNotOn)
  return startDownload(app, soundId, null)
}
