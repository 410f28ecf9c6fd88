import type { BasketLine, BasketWire } from '../../contract'
import { decidedByTerms, isPermitted, type Papers } from '../../core/rights'
import { orders as messages } from '../../messages/server/orders'
import { loadPapers } from '../clearance/papers-of'
import { currentPapers, loadTierOffers, type TierOffer } from '../clearance/weigh'
import type { App, Services } from '../context'
import { type Db, nowIso } from '../database/db'
import { DomainError, notFound } from '../domain-error'
import { money, moneyOf } from '../money'
import { usesOfRow } from '../rows/video-rows'
import { getLicensee } from '../settings'
import { findOrCreateOpenOrder } from './orders'
import { loadLimits, requireWithinLimit, spentInMonth } from './spending-limit'

/** What a basket can hold: enough for a whole film. */
const MAX_LINES = 500

/** What is put into the basket, or changed there. */
export interface BasketWish {
  readonly soundId: number
  readonly tier: string
  readonly videoId: number | null
}

/** Puts an offer into the basket; the same one is in it once. @throws {DomainError} not-found, too-many. */
export async function putIntoBasket(db: Db, { soundId, tier, videoId }: BasketWish): Promise<void> {
  const offer = await db
    .selectFrom('sound_tiers')
    .innerJoin('sounds', 'sounds.id', 'sound_tiers.sound_id')
    .select(['price_minor', 'currency', 'withdrawn_at'])
    .where('sound_id', '=', soundId)
    .where('sound_tiers.key', '=', tier)
    .executeTakeFirst()
  if (!offer || offer.withdrawn_at !== null) throw notFound(messages.thisOffer)
  await requireVideo(db, videoId)
  const { count } = await db
    .selectFrom('basket')
    .select((eb) => eb.fn.countAll<number>().as('count'))
    .executeTakeFirstOrThrow()
  if (count >= MAX_LINES) throw new DomainError('too-many', messages.basketHoldsSoundsPayFor(MAX_LINES))
  const { price_minor, currency } = offer
  await db
    .insertInto('basket')
    .values({ sound_id: soundId, tier, price_minor, currency, video_id: videoId, added_at: nowIso() })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
}

/** Changes the tier or the video of a line. @throws {DomainError} not-found, already. */
export async function changeBasketLine(
  db: Db,
  id: number,
  change: { readonly tier?: string | undefined; readonly videoId?: number | null | undefined },
): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const line = await trx.selectFrom('basket').selectAll().where('id', '=', id).executeTakeFirst()
    if (!line) throw notFound(messages.thisLineOfTheBasket)
    const tier = change.tier ?? line.tier
    const videoId = change.videoId === undefined ? line.video_id : change.videoId
    await trx.deleteFrom('basket').where('id', '=', id).execute()
    await putIntoBasket(trx, { soundId: line.sound_id, tier, videoId })
  })
}

export async function takeOutOfBasket(db: Db, id: number): Promise<void> {
  await db.deleteFrom('basket').where('id', '=', id).execute()
}

/** What is in the basket, by library, with what it comes to and what would do as well. @param today YYYY-MM-DD. */
export async function loadBasket({ db }: Pick<Services, 'db'>, today: string): Promise<BasketWire> {
  const rows = await db
    .selectFrom('basket')
    .innerJoin('sound_rows', 'sound_rows.id', 'basket.sound_id')
    .leftJoin('videos', (join) => join.onRef('videos.id', '=', 'basket.video_id').on('videos.removed_at', 'is', null))
    .select(['basket.id', 'basket.sound_id', 'basket.tier', 'basket.price_minor', 'basket.currency'])
    .select(['sound_rows.source_id', 'sound_rows.source_name', 'shown_title', 'withdrawn_at'])
    .select(['videos.id as video_id', 'videos.title as video_title', 'videos.uses_json'])
    .orderBy('sound_rows.source_name')
    .orderBy('basket.id')
    .execute()
  const known = await loadByVideo(db, rows)
  const lines: BasketLine[] = []
  for (const row of rows) {
    const { offers, papers } = known.get(row.video_id) as KnownForVideo
    const tiers = offers.get(row.sound_id) ?? []
    const filed = papers.get(row.sound_id) ?? []
    const allows = allowsFor(row, today)
    const chosen = tiers.find(({ key }) => key === row.tier)
    const cheaper = chosen && tiers.find((one) => one.priceMinor < chosen.priceMinor && allows(one.papers))
    const isHeld = currentPapers(filed).some((held) => allows(held) === true)
    lines.push({
      id: row.id,
      soundId: row.sound_id,
      title: row.shown_title,
      sourceId: row.source_id,
      sourceName: row.source_name,
      videoId: row.video_id,
      videoTitle: row.video_title,
      tier: row.tier,
      tiers: tiers.map((one) => ({ key: one.key, title: one.title, price: one.price ?? '', fits: allows(one.papers) })),
      priceMinor: chosen?.priceMinor ?? 0,
      currency: chosen?.currency ?? row.currency,
      price: chosen?.price ?? '',
      notes: notesOf(row, chosen, { cheaper, isHeld }),
      isOffered: chosen !== undefined && row.withdrawn_at === null,
    })
  }
  const spent = await spentInMonth(db, today)
  const limits = await loadLimits(db)
  const currencies = new Set([...lines.map(({ currency }) => currency), ...spent.keys(), ...Object.keys(limits)])
  return {
    licensee: await getLicensee(db),
    lines,
    totals: totalsBySource(lines),
    limits: [...currencies].sort().map((currency) => ({
      currency,
      spentMinor: spent.get(currency) ?? 0,
      spent: money(spent.get(currency) ?? 0, currency),
      limitMinor: limits[currency] ?? null,
      limit: limits[currency] === undefined ? null : money(limits[currency], currency),
    })),
  }
}

/** What is offered of some sounds and on file for them, in the light of one video. */
interface KnownForVideo {
  readonly offers: Awaited<ReturnType<typeof loadTierOffers>>
  readonly papers: Awaited<ReturnType<typeof loadPapers>>
}

/** Asked for once for each video, however many lines are for it. */
async function loadByVideo(
  db: Db,
  rows: readonly { readonly sound_id: number; readonly video_id: number | null }[],
): Promise<Map<number | null, KnownForVideo>> {
  const known = new Map<number | null, KnownForVideo>()
  for (const videoId of new Set(rows.map(({ video_id }) => video_id))) {
    const ids = rows.filter(({ video_id }) => video_id === videoId).map(({ sound_id }) => sound_id)
    known.set(videoId, {
      offers: await loadTierOffers(db, ids, videoId),
      papers: await loadPapers(db, ids, videoId),
    })
  }
  return known
}

/** Whether papers allow the video of a line; null where it is for none. */
function allowsFor(
  { video_id, uses_json }: { video_id: number | null; uses_json: string | null },
  today: string,
): (papers: Papers) => boolean | null {
  if (video_id === null || uses_json === null) return () => null
  const uses = usesOfRow({ uses_json })
  return (papers) => isPermitted(decidedByTerms(papers, { uses, asOf: today, videoId: video_id }).verdict)
}

/** What should be known before it is paid. */
function notesOf(
  row: {
    readonly tier: string
    readonly price_minor: number
    readonly currency: string
    readonly withdrawn_at: string | null
  },
  chosen: TierOffer | undefined,
  { cheaper, isHeld }: { readonly cheaper: TierOffer | undefined; readonly isHeld: boolean },
): string[] {
  if (!chosen || row.withdrawn_at !== null) return [messages.notOfferedAnyMore]
  const notes: string[] = []
  if (isHeld) notes.push(messages.papersThatAreOnFile)
  if (cheaper) notes.push(messages.forAllowsThisVideoToo(cheaper.title, cheaper.price))
  if (chosen.priceMinor !== row.price_minor || chosen.currency !== row.currency)
    notes.push(messages.wasWhenYouPutIn(money(row.price_minor, row.currency)))
  return notes
}

function totalsBySource(lines: readonly BasketLine[]): BasketWire['totals'] {
  const sums = new Map<string, { sourceName: string; byCurrency: Map<string, number> }>()
  for (const { sourceId, sourceName, isOffered, currency, priceMinor } of lines) {
    if (!isOffered) continue
    const sum = sums.get(sourceId) ?? { sourceName, byCurrency: new Map<string, number>() }
    sum.byCurrency.set(currency, (sum.byCurrency.get(currency) ?? 0) + priceMinor)
    sums.set(sourceId, sum)
  }
  return [...sums].map(([sourceId, { sourceName, byCurrency }]) => ({
    sourceId,
    sourceName,
    total: moneyOf(byCurrency),
  }))
}

/** A line as the creator saw it when they pressed. */
export interface AgreedLine {
  readonly id: number
  readonly priceMinor: number
  readonly currency: string
}

/**
 * Pays for lines of the basket: each becomes an order that is carried out by a job.
 *
 * @param agreed What was shown: nothing is bought at another price.
 * @throws {DomainError} not-found, price-changed, over-limit, bought. Then nothing is bought.
 */
export async function payBasket(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  agreed: readonly AgreedLine[],
  today: string,
): Promise<{ orderCount: number }> {
  const orders = await db.transaction().execute(async (trx) => {
    const { lines } = await loadBasket({ db: trx }, today)
    const wanted = agreed.map((one) => {
      const line = lines.find(({ id }) => id === one.id)
      if (!line?.isOffered) throw notFound(messages.oneOfTheseOffers)
      if (line.priceMinor !== one.priceMinor || line.currency !== one.currency)
        throw new DomainError(
          'price-changed',
          messages.costsNowYouSawNothing(line.title, line.price, money(one.priceMinor, one.currency)),
        )
      return line
    })
    const sums = new Map<string, number>()
    for (const { currency, priceMinor } of wanted) sums.set(currency, (sums.get(currency) ?? 0) + priceMinor)
    await requireWithinLimit(trx, sums, today)
    const placed: { id: number; title: string }[] = []
    for (const { id, soundId, tier, priceMinor, videoId } of wanted) {
      placed.push(await findOrCreateOpenOrder(trx, soundId, { tier, priceMinor, videoId }))
      await takeOutOfBasket(trx, id)
    }
    return placed
  })
  for (const { id, title } of orders) await jobs.enqueue('purchase', String(id), messages.buying(title))
  return { orderCount: orders.length }
}

async function requireVideo(db: Db, videoId: number | null): Promise<void> {
  if (videoId === null) return
  const there = await db
    .selectFrom('videos')
    .select('id')
    .where('id', '=', videoId)
    .where('removed_at', 'is', null)
    .executeTakeFirst()
  if (!there) throw notFound(messages.thisVideo)
}
