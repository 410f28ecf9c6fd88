import { readingsOfClause } from '../../core/rights'
import { orders as messages } from '../../messages/server/orders'
import type { Services } from '../context'
import {
  type Acquired,
  acquire,
  type SoundToAcquire,
  savedInWords,
  storeDownload,
  storeReceipt,
} from '../copies/acquire'
import { nowIso } from '../database/open'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { money } from '../money'
import { type Connector, type Order, SourceError } from '../ports/connector'
import { isSameAmount, requireCharged } from '../sources/agreed-price'
import type { HeldTerms } from '../terms/held-to-text'
import { storeTerms, termsOfRow } from '../terms/terms-store'
import { getOrderRow, type OrderRow, setOrder } from './order-rows'

/** The first wait before an order is taken up again, ms; each later one is twice as long, up to a day. */
const FIRST_WAIT_MS = 60_000
const LONGEST_WAIT_MS = 24 * 3600 * 1000

/**
 * Carries out an order that was written down, from wherever it stands. Its key was drawn before the library was first asked, so it is
 * paid once. What was paid stays on the list until its file and its receipt are here.
 */
export async function carryOutOrder(services: Services, orderId: number, context: JobContext): Promise<string> {
  const row = await getOrderRow(services.db, orderId)
  const isLost = row.state === 'done' && !(await isCopyHere(services, row))
  if (row.state === 'done' && row.is_receipt_missing === 0 && !isLost) return messages.itWasBoughtAlready
  try {
    if (row.state === 'done' && !isLost) return await fetchMissingReceipt(services, row, context.signal)
    const { fileName } = await acquireOrdered(services, row, context)
    const { is_receipt_missing } = await getOrderRow(services.db, orderId)
    return is_receipt_missing ? messages.receiptStillCome(savedInWords(fileName)) : savedInWords(fileName)
  } catch (error) {
    if (!context.signal.aborted) await noteFailure(services, orderId, services.explain(error))
    throw error
  }
}

async function isCopyHere({ db, store }: Services, { grant_id }: OrderRow): Promise<boolean> {
  if (grant_id === null) return true
  const grant = await db.selectFrom('grants').select('copy_sha256').where('id', '=', grant_id).executeTakeFirst()
  return grant === undefined || store.has(grant.copy_sha256)
}

async function acquireOrdered(services: Services, row: OrderRow, context: JobContext): Promise<Acquired> {
  const { db } = services
  const { id, order_key: orderKey, sound_id: soundId, video_id: videoId } = row
  return acquire(
    services,
    {
      soundId,
      orderKey,
      tier: tierOf(row),
      format: null,
      videoId,
      ...(row.terms_id === null ? {} : { terms: await termsAsPaid(services, row.terms_id) }),
      place: async ({ connector, sound, terms }) => {
        const order = await placeOnce(services, row, connector, {
          externalId: sound.external_id,
          signal: context.signal,
        })
        await notePaid(services, row, { order, terms, sound })
        return order
      },
      onReceipt: (sha256) => setOrder(db, id, { receipt_sha256: sha256 }),
      onFile: (sha256) => setOrder(db, id, { served_sha256: sha256 }),
      onGrant: (trx, { grantId, hasReceipt }) =>
        setOrder(trx, id, {
          state: 'done',
          grant_id: grantId,
          is_receipt_missing: hasReceipt ? 0 : 1,
          message: hasReceipt ? '' : messages.receiptHasNotComeYet,
          tries: 0,
          next_try_at: hasReceipt ? null : afterWait(0),
        }),
    },
    context,
  )
}

/** What was agreed to. */
function tierOf({ tier, price_minor: priceMinor, currency }: OrderRow) {
  return { key: tier, priceMinor, currency }
}

/** Places an order, or finds the one that was placed with its key when the answer was lost. */
async function placeOnce(
  { db }: Services,
  row: OrderRow,
  connector: Connector,
  { externalId, signal }: { readonly externalId: string; readonly signal: AbortSignal },
): Promise<Order> {
  const { id, order_key: key, state } = row
  if (state !== 'open' && connector.findOrder) {
    const found = await connector.findOrder(key, signal)
    if (found) return found
    if (state !== 'asked') throw new SourceError('gone', messages.doesNotKnowOrderAny(connector.name, row.order_ref))
    // Asked for once and looked after later: nobody agrees to it a second time by waiting.
    if (row.tries > 0) {
      await setOrder(db, id, { state: 'open', next_try_at: null })
      throw new SourceError('gone', messages.hasNoSuchOrderNothing(connector.name))
    }
  }
  await setOrder(db, id, { state: state === 'open' ? 'asked' : state, next_try_at: afterWait(0) })
  try {
    return await connector.order(externalId, { key, tier: tierOf(row) }, signal)
  } catch (error) {
    if (state === 'open' && error instanceof SourceError && error.code === 'price-changed')
      await setOrder(db, id, { state: 'open', next_try_at: null })
    throw error
  }
}

/** Writes down that an order was paid, before anything is fetched. @throws {SourceError} overcharged. */
async function notePaid(
  { db }: Services,
  row: OrderRow,
  { order, terms, sound }: { readonly order: Order; readonly terms: HeldTerms; readonly sound: SoundToAcquire },
): Promise<void> {
  const { source_id, source_name: sourceName, shown_title: title } = sound
  const agreed = { priceMinor: row.price_minor, currency: row.currency }
  const charged = order.paid ? { priceMinor: order.paid.minor, currency: order.paid.currency } : agreed
  const isOther = !isSameAmount(agreed, charged)
  if (row.paid_at === null)
    await db.transaction().execute(async (trx) => {
      await setOrder(trx, row.id, {
        state: 'paid',
        order_ref: order.ref,
        paid_minor: charged.priceMinor,
        paid_currency: charged.currency,
        paid_at: nowIso(),
        terms_id: await storeTerms(trx, source_id, terms),
        is_disputed: isOther ? 1 : 0,
        message: messages.fileStillCome,
        tries: 0,
        next_try_at: isOther ? null : afterWait(0),
      })
      const sum = money(charged.priceMinor, charged.currency)
      const what = { title, tier: row.tier, order: order.ref, sum, paidMinor: charged.priceMinor }
      await appendToLedger(trx, 'paid', { source: sourceName, ...what, currency: charged.currency, orderId: row.id })
    })
  // Once the creator takes the file all the same, it is disputed no more.
  if (row.paid_at === null || row.is_disputed === 1) requireCharged(sourceName, order.ref, agreed, charged)
}

/** The terms that an order was paid under: they count, whatever is served by the time the file comes. */
async function termsAsPaid({ db }: Services, termsId: number): Promise<HeldTerms> {
  const row = await db.selectFrom('terms').selectAll().where('id', '=', termsId).executeTakeFirstOrThrow()
  const { title, shortTitle, version, spdxId, url, duration, clauses } = termsOfRow(row)
  const readings = clauses.flatMap(readingsOfClause)
  const misfitLabel = row.misfit_label
  return { key: row.key, title, shortTitle, version, spdxId, url, duration, readings, text: row.text, misfitLabel }
}

async function fetchMissingReceipt(services: Services, row: OrderRow, signal: AbortSignal): Promise<string> {
  const { db } = services
  const { source_id } = await db
    .selectFrom('sounds')
    .select('source_id')
    .where('id', '=', row.sound_id)
    .executeTakeFirstOrThrow()
  const connector = services.connector(source_id)
  const order = await connector.findOrder?.(row.order_key, signal)
  if (!order?.receipt) throw new SourceError('gone', messages.hasNoReceiptForOrder(connector.name, row.order_ref))
  const receipt = await storeDownload(services, (await order.receipt(signal)).body, signal)
  await db.transaction().execute(async (trx) => {
    if (row.grant_id !== null) await storeReceipt(trx, row.grant_id, { ...receipt, ref: order.ref })
    const done = { receipt_sha256: receipt.sha256, is_receipt_missing: 0, message: '', next_try_at: null, tries: 0 }
    await setOrder(trx, row.id, done)
  })
  return messages.receiptOrderHere(order.ref)
}

async function noteFailure({ db }: Services, orderId: number, message: string): Promise<void> {
  const row = await getOrderRow(db, orderId)
  const tries = row.tries + 1
  const isDue = row.state !== 'open' && row.is_disputed === 0
  await setOrder(db, orderId, { message, tries, next_try_at: isDue ? afterWait(tries) : null })
}

/** When to try again after so many failures. */
function afterWait(tries: number): string {
  return new Date(Date.now() + Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** tries)).toISOString()
}
