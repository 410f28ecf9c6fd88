import { stringify } from 'csv-stringify/sync'
import { type JournalWire, ORDER_STATE_WORDS, type OrderWire } from '../../contract'
import { orders as messages } from '../../messages/server/orders'
import type { Db } from '../database/db'
import { dayOf } from '../database/open'
import { amountOf, money, moneyOf } from '../money'
import type { ExportedFile } from '../papers/exported-file'

/** Every order, the newest first, and what was paid by library and month. */
export async function loadJournal(db: Db): Promise<JournalWire> {
  const orders = await listOrders(db)
  const sums = new Map<string, { month: string; sourceName: string; byCurrency: Map<string, number> }>()
  for (const { paidAt, sourceName, paidMinor, paidCurrency } of orders) {
    if (paidAt === null || paidMinor === null || paidCurrency === null) continue
    const month = paidAt.slice(0, 7)
    const key = `${month} ${sourceName}`
    const sum = sums.get(key) ?? { month, sourceName, byCurrency: new Map<string, number>() }
    sum.byCurrency.set(paidCurrency, (sum.byCurrency.get(paidCurrency) ?? 0) + paidMinor)
    sums.set(key, sum)
  }
  const totals = [...sums.values()]
    .sort((a, b) => b.month.localeCompare(a.month) || a.sourceName.localeCompare(b.sourceName))
    .map(({ byCurrency, ...sum }) => ({ ...sum, total: moneyOf(byCurrency) }))
  return { orders, totals }
}

/**
 * Orders of one sound, or of all, the newest first.
 *
 * @param asked.isOpen Only those for which something is still to come: a file, a receipt, an answer, a word of the creator.
 */
export async function listOrders(
  db: Db,
  { soundId, isOpen = false }: { readonly soundId?: number; readonly isOpen?: boolean } = {},
): Promise<OrderWire[]> {
  const rows = await db
    .selectFrom('orders')
    .innerJoin('sound_rows', 'sound_rows.id', 'orders.sound_id')
    .leftJoin('sound_tiers', (join) =>
      join.onRef('sound_tiers.sound_id', '=', 'orders.sound_id').onRef('sound_tiers.key', '=', 'orders.tier'),
    )
    .leftJoin('videos', 'videos.id', 'orders.video_id')
    .leftJoin('evidence', (join) =>
      join.onRef('evidence.grant_id', '=', 'orders.grant_id').onRef('evidence.sha256', '=', 'orders.receipt_sha256'),
    )
    .selectAll('orders')
    .select(['sound_rows.source_name', 'shown_title', 'sound_tiers.title as tier_title', 'videos.title as video_title'])
    .select('evidence.id as evidence_id')
    .$if(soundId !== undefined, (query) => query.where('orders.sound_id', '=', soundId as number))
    .$if(isOpen, (query) =>
      query.where((eb) => eb.or([eb('orders.state', 'in', ['asked', 'paid']), eb('is_receipt_missing', '=', 1)])),
    )
    .orderBy('orders.id', 'desc')
    .execute()
  return rows.map((row) => ({
    id: row.id,
    at: row.created_at,
    soundId: row.sound_id,
    title: row.shown_title,
    sourceName: row.source_name,
    tier: row.tier_title ?? row.tier,
    videoTitle: row.video_title,
    order: row.order_ref,
    agreed: money(row.price_minor, row.currency),
    paid: row.paid_minor === null || row.paid_currency === null ? null : money(row.paid_minor, row.paid_currency),
    paidMinor: row.paid_minor,
    paidCurrency: row.paid_currency,
    paidAt: row.paid_at,
    receiptId: row.evidence_id,
    state: stateOf(row),
    message: row.message,
    nextTryAt: row.next_try_at,
  }))
}

function stateOf(row: {
  readonly state: string
  readonly is_disputed: number
  readonly is_receipt_missing: number
}): OrderWire['state'] {
  if (row.state === 'paid') return row.is_disputed ? 'disputed' : 'file-to-come'
  if (row.state === 'done') return row.is_receipt_missing ? 'receipt-to-come' : 'done'
  return row.state === 'asked' ? 'not-answered' : 'not-bought'
}

const COLUMNS = [
  'date',
  'sound',
  'library',
  'tier',
  'video',
  'order',
  'state',
  'agreed',
  'paid',
  'currency',
  messages.paidOn,
  'receipt',
] as const

/** The journal as a table, amounts as plain numbers. @param today YYYY-MM-DD. */
export function exportJournal(db: Db, today: string): ExportedFile {
  async function* pieces(): AsyncGenerator<string> {
    const orders = await listOrders(db)
    const rows = orders.map((order) => [
      dayOf(order.at),
      order.title,
      order.sourceName,
      order.tier,
      order.videoTitle ?? '',
      order.order ?? '',
      ORDER_STATE_WORDS[order.state],
      order.agreed,
      order.paidMinor === null || order.paidCurrency === null ? '' : amountOf(order.paidMinor, order.paidCurrency),
      order.paidCurrency ?? '',
      order.paidAt ? dayOf(order.paidAt) : '',
      order.receiptId === null ? 'missing' : messages.onFile,
    ])
    yield stringify([[...COLUMNS], ...rows], { escape_formulas: true, record_delimiter: 'windows' })
  }
  return { mime: 'text/csv; charset=utf-8', fileName: `orders ${today}.csv`, pieces: pieces() }
}
