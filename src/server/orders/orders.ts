import { randomUUID } from 'node:crypto'
import { orders as messages } from '../../messages/server/orders'
import type { App } from '../context'
import { type Db, dayOf, nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { getOrderRow, setOrder, UNDER_WAY } from './order-rows'

/** Writes an order down and queues it. While it is under way, asking again gives the same order. */
export async function placeOrder(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  soundId: number,
  request: OrderWish,
): Promise<{ jobId: number; already: boolean }> {
  const { id, title } = await findOrCreateOpenOrder(db, soundId, request)
  const { job, already } = await jobs.enqueue('purchase', String(id), messages.buying(title))
  return { jobId: job.id, already }
}

export interface OrderWish {
  readonly tier: string
  readonly priceMinor: number
  readonly videoId: number | null
}

/**
 * Writes an order down, or gives the one that is open.
 *
 * @param request.priceMinor The price that the creator saw: nothing is bought above it.
 * @throws {DomainError} not-found, price-changed, bought.
 */
export async function findOrCreateOpenOrder(
  db: Db,
  soundId: number,
  { tier, priceMinor, videoId }: OrderWish,
): Promise<{ id: number; title: string }> {
  const row = await db
    .selectFrom('sound_tiers')
    .innerJoin('sound_rows', 'sound_rows.id', 'sound_tiers.sound_id')
    .select(['shown_title', 'price_minor', 'currency', 'withdrawn_at'])
    .where('sound_id', '=', soundId)
    .where('sound_tiers.key', '=', tier)
    .executeTakeFirst()
  if (!row || row.withdrawn_at !== null) throw notFound(messages.thisOffer)
  if (row.price_minor > priceMinor) throw new DomainError('price-changed', messages.priceHasGoneUpSince)
  if (videoId !== null && !(await db.selectFrom('videos').select('id').where('id', '=', videoId).executeTakeFirst()))
    throw notFound(messages.thisVideo)
  await requireNotBought(db, soundId, { tier, videoId })
  await db
    .insertInto('orders')
    .values({
      order_key: `good-thud-${randomUUID()}`,
      sound_id: soundId,
      tier,
      price_minor: priceMinor,
      currency: row.currency,
      video_id: videoId,
      state: 'open',
      order_ref: null,
      created_at: nowIso(),
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
  const order = await db
    .selectFrom('orders')
    .select(['id', 'state'])
    .where('sound_id', '=', soundId)
    .where('tier', '=', tier)
    .where('video_id', videoId === null ? 'is' : '=', videoId)
    .where('state', 'in', UNDER_WAY)
    .executeTakeFirst()
  if (!order) throw new DomainError('bought', messages.wasBoughtMomentAgo)
  // An order that broke off before anything was bought may be taken up again at the price that is agreed to now.
  if (order.state === 'open')
    await db
      .updateTable('orders')
      .set({ price_minor: priceMinor, currency: row.currency })
      .where('id', '=', order.id)
      .execute()
  return { id: order.id, title: row.shown_title }
}

/** The same thing is not bought twice: for this video, in this tier. @throws {DomainError} bought. */
async function requireNotBought(
  db: Db,
  soundId: number,
  { tier, videoId }: Pick<OrderWish, 'tier' | 'videoId'>,
): Promise<void> {
  const bought = await db
    .selectFrom('orders')
    .select(['order_ref', 'paid_at'])
    .where('sound_id', '=', soundId)
    .where('tier', '=', tier)
    .where('video_id', videoId === null ? 'is' : '=', videoId)
    .where('state', '=', 'done')
    .executeTakeFirst()
  if (!bought) return
  const when = bought.paid_at ? ` on ${dayOf(bought.paid_at)}` : ''
  const whose = videoId === null ? messages.forNoVideoYet : messages.forThisVideo
  throw new DomainError('bought', messages.wasBoughtInThisTier(whose, when, bought.order_ref))
}

/** Takes up an order that is not over: what was paid is fetched, for the video that it was paid for. @throws {DomainError} not-found. */
export async function finishOrder(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  orderId: number,
): Promise<{ jobId: number; already: boolean }> {
  const row = await getOrderRow(db, orderId)
  const { shown_title } = await db
    .selectFrom('sound_rows')
    .select('shown_title')
    .where('id', '=', row.sound_id)
    .executeTakeFirstOrThrow()
  if (row.state === 'open') throw new DomainError('nothing-to-do', messages.nothingWasBoughtPutInto)
  // The creator has seen both figures, and takes the file all the same.
  await setOrder(db, orderId, { tries: 0, is_disputed: 0 })
  const { job, already } = await jobs.enqueue('purchase', String(orderId), messages.fetching(shown_title))
  return { jobId: job.id, already }
}

/** Takes up again what was paid, or may have been, and is not here yet. @returns How many. */
export async function takeUpDueOrders({ db, jobs }: Pick<App, 'db' | 'jobs'>, now: string): Promise<number> {
  const due = await db
    .selectFrom('orders')
    .innerJoin('sound_rows', 'sound_rows.id', 'orders.sound_id')
    .select(['orders.id', 'orders.state', 'orders.tries', 'shown_title'])
    .where('next_try_at', '<=', now)
    .where('is_disputed', '=', 0)
    .execute()
  for (const { id, state, tries, shown_title } of due) {
    // Looked after, and not bought: whoever agreed to it has to do so again.
    if (state === 'asked' && tries === 0) await setOrder(db, id, { tries: 1 })
    await jobs.enqueue('purchase', String(id), messages.fetching(shown_title))
  }
  return due.length
}
