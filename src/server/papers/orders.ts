import { randomUUID } from 'node:crypto'
import type { App } from '../context'
import { type Db, nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'

/** Writes an order down and queues it. While it is under way, asking again gives the same order. */
export async function placeOrder(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  soundId: number,
  request: OrderWish,
): Promise<{ jobId: number; already: boolean }> {
  const { id, title } = await findOrCreateOpenOrder(db, soundId, request)
  const { job, already } = await jobs.enqueue('purchase', String(id), `Buying ${title}`)
  return { jobId: job.id, already }
}

interface OrderWish {
  readonly tier: string
  readonly priceMinor: number
  readonly videoId: number | null
}

/**
 * Writes an order down, or gives the one that is open.
 *
 * @param request.priceMinor The price that the creator saw: nothing is bought above it.
 * @throws {DomainError} not-found, price-changed.
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
  if (!row || row.withdrawn_at !== null) throw notFound('This offer')
  if (row.price_minor > priceMinor)
    throw new DomainError('price-changed', 'The price has gone up since you saw it. Look again and decide.')
  if (videoId !== null && !(await db.selectFrom('videos').select('id').where('id', '=', videoId).executeTakeFirst()))
    throw notFound('This video')
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
    .select('id')
    .where('sound_id', '=', soundId)
    .where('tier', '=', tier)
    .where('video_id', videoId === null ? 'is' : '=', videoId)
    .where('state', '=', 'open')
    .executeTakeFirst()
  if (!order) throw new DomainError('bought', 'It was bought a moment ago.')
  // An order that broke off before anything was bought may be taken up again at the price that is agreed to now.
  await db.updateTable('orders').set({ price_minor: priceMinor }).where('id', '=', order.id).execute()
  return { id: order.id, title: row.shown_title }
}
