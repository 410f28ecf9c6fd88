import type { BatchPlan } from '../../contract'
import { type DecisionContext, decidedByTerms, isPermitted, type Papers } from '../../core/rights'
import { orders as messages } from '../../messages/server/orders'
import { loadTierOffers, type TierOffer } from '../clearance/weigh'
import type { App, Services } from '../context'
import { acquireSound, isHere } from '../copies/acquire'
import { type Db, nowIso, todayIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import type { JobContext } from '../jobs/jobs'
import { moneyOf } from '../money'
import { carryOutOrder } from './carry-out'
import { findOrCreateOpenOrder } from './orders'
import { requireWithinLimit } from './spending-limit'

type BatchLine = BatchPlan['lines'][number]

/**
 * Plans the acquisition of several sounds. For what is sold the cheapest tier is taken that fits the video in hand; where none does,
 * or none is in hand, the cheapest.
 */
export async function planBatch(
  { db, store }: Pick<Services, 'db' | 'store'>,
  ids: readonly number[],
  context: DecisionContext | null,
): Promise<BatchPlan> {
  const rows = await db
    .selectFrom('sound_rows')
    .select(['id', 'shown_title', 'withdrawn_at', 'source_kind', 'plan_until'])
    .where('id', 'in', [...ids])
    .execute()
  const tiers = await loadTierOffers(db, ids, context?.videoId ?? null)
  const lines: BatchLine[] = []
  for (const id of ids) {
    const row = rows.find((one) => one.id === id)
    if (!row) throw notFound(messages.oneOfTheseSounds)
    const here = row.source_kind !== 'library' || (await isHere({ db, store }, id, row.plan_until))
    const tier = here || row.withdrawn_at !== null ? null : tierToBuy(tiers.get(id) ?? [], context)
    lines.push({
      soundId: id,
      title: row.shown_title,
      how: here ? 'here' : row.withdrawn_at !== null ? 'not' : tier ? 'buy' : 'free',
      tier: tier?.key ?? null,
      tierTitle: tier?.title ?? null,
      priceMinor: tier?.priceMinor ?? 0,
      currency: tier?.currency ?? null,
    })
  }
  return { lines, total: moneyOf(sumsOf(lines)) }
}

/** The cheapest tier that fits the video in hand, else the cheapest; null where nothing is sold. */
function tierToBuy(tiers: readonly TierOffer[], context: DecisionContext | null): TierOffer | null {
  const fitting = context && tiers.find(({ papers }) => decidesYes(context, papers))
  return fitting || (tiers[0] ?? null)
}

function sumsOf(lines: readonly BatchLine[]): Map<string, number> {
  const sums = new Map<string, number>()
  for (const { priceMinor, currency } of lines)
    if (currency !== null) sums.set(currency, (sums.get(currency) ?? 0) + priceMinor)
  return sums
}

/**
 * Writes a batch down and queues it.
 *
 * @param agreed The plan as the creator saw it: nothing is bought above its prices.
 * @throws {DomainError} not-found, nothing-to-do, price-changed, over-limit.
 */
export async function startBatch(
  { db, store, jobs }: Pick<App, 'db' | 'store' | 'jobs'>,
  agreed: readonly { readonly soundId: number; readonly priceMinor: number }[],
  context: DecisionContext | null,
): Promise<{ batchId: number; jobId: number }> {
  const plan = await planBatch(
    { db, store },
    agreed.map(({ soundId }) => soundId),
    context,
  )
  const wanted = plan.lines.filter(({ how }) => how !== 'not')
  if (wanted.length === 0) throw new DomainError('nothing-to-do', messages.noneTheseSoundsCanBe)
  for (const [at, { priceMinor }] of plan.lines.entries())
    if (priceMinor > (agreed[at]?.priceMinor ?? 0))
      throw new DomainError('price-changed', messages.priceHasGoneUpSinceYou)
  await requireWithinLimit(db, sumsOf(wanted), todayIso())
  const batchId = await db.transaction().execute(async (trx) => {
    const { id } = await trx
      .insertInto('batches')
      .values({ video_id: context?.videoId ?? null, created_at: nowIso() })
      .returning('id')
      .executeTakeFirstOrThrow()
    await trx
      .insertInto('batch_items')
      .values(
        wanted.map(({ soundId, tier, priceMinor, how }, position) => ({
          batch_id: id,
          position,
          sound_id: soundId,
          tier,
          price_minor: priceMinor,
          order_id: null,
          state: how === 'here' ? 'done' : 'open',
          message: how === 'here' ? messages.itWasHereAlready : '',
        })),
      )
      .execute()
    return id
  })
  const { job } = await jobs.enqueue('batch', String(batchId), messages.downloadingSounds(wanted.length))
  return { batchId, jobId: job.id }
}

/** Acquires what is left of a batch. A sound that cannot be had does not stop the others. */
export async function acquireBatch(services: Services, batchId: number, context: JobContext): Promise<string> {
  const { db } = services
  const batch = await db.selectFrom('batches').selectAll().where('id', '=', batchId).executeTakeFirst()
  if (!batch) throw notFound(messages.thisListOfSounds)
  const items = await db
    .selectFrom('batch_items')
    .selectAll()
    .where('batch_id', '=', batchId)
    .orderBy('position')
    .execute()
  for (const [at, item] of items.entries()) {
    if (item.state === 'done') continue
    context.signal.throwIfAborted()
    const report = (fraction: number, message: string): void =>
      context.report((at + fraction) / items.length, `${at + 1} of ${items.length}: ${message}`)
    try {
      const message = await acquireItem(services, item, batch.video_id, { ...context, report })
      await setItem(db, item, { state: 'done', message })
    } catch (error) {
      if (context.signal.aborted) throw error
      await setItem(db, item, { state: 'failed', message: services.explain(error) })
    }
  }
  const ended = await db.selectFrom('batch_items').select('state').where('batch_id', '=', batchId).execute()
  const done = ended.filter(({ state }) => state === 'done').length
  if (done === 0) throw new DomainError('none', messages.noneSoundsCouldBeDownloaded)
  return done === ended.length ? messages.allAreHereWithTheir(done) : messages.areHereOthersFailed(done, ended.length)
}

interface Item {
  readonly batch_id: number
  readonly position: number
  readonly sound_id: number
  readonly tier: string | null
  readonly price_minor: number
  readonly order_id: number | null
}

async function acquireItem(
  services: Services,
  item: Item,
  videoId: number | null,
  context: JobContext,
): Promise<string> {
  if (item.tier === null) return acquireSound(services, item.sound_id, context)
  const wish = { tier: item.tier, priceMinor: item.price_minor, videoId }
  // The order's number is written down before the library is context: a batch that broke off goes on with the same order.
  const orderId = item.order_id ?? (await findOrCreateOpenOrder(services.db, item.sound_id, wish)).id
  await setItem(services.db, item, { order_id: orderId })
  return carryOutOrder(services, orderId, context)
}

async function setItem(
  db: Db,
  { batch_id, position }: Item,
  values: { state?: string; message?: string; order_id?: number },
): Promise<void> {
  await db
    .updateTable('batch_items')
    .set(values)
    .where('batch_id', '=', batch_id)
    .where('position', '=', position)
    .execute()
}

function decidesYes(context: DecisionContext, papers: Papers): boolean {
  return isPermitted(decidedByTerms(papers, context).verdict)
}
