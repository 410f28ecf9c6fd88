import { z } from 'zod'
import { orders as messages } from '../../messages/server/orders'
import type { Db } from '../database/db'
import { DomainError } from '../domain-error'
import { money } from '../money'
import { findSetting, setSetting } from '../settings'

/** The most that may be spent in a calendar month, by currency, in the smallest unit. */
const Limits = z.record(z.string().regex(/^[A-Z]{3}$/), z.number().int().nonnegative())
export type Limits = z.infer<typeof Limits>

export async function loadLimits(db: Db): Promise<Limits> {
  const stored = Limits.safeParse(JSON.parse((await findSetting(db, 'spending-limits')) ?? '{}'))
  return stored.success ? stored.data : {}
}

/** Sets the limit of one currency; null takes it away. */
export async function setLimit(db: Db, currency: string, minor: number | null): Promise<void> {
  const { [currency]: _, ...others } = await loadLimits(db)
  const limits = minor === null ? others : { ...others, [currency]: minor }
  await setSetting(db, 'spending-limits', JSON.stringify(limits))
}

/** What was paid in the month of a day, and what is ordered and may be, by currency. @param day YYYY-MM-DD. */
export async function spentInMonth(db: Db, day: string): Promise<Map<string, number>> {
  const month = day.slice(0, 7)
  const paid = await db
    .selectFrom('orders')
    .select(['paid_currency as currency', (eb) => eb.fn.sum<number>('paid_minor').as('sum')])
    .where('paid_at', 'like', `${month}%`)
    .groupBy('paid_currency')
    .execute()
  const asked = await db
    .selectFrom('orders')
    .select(['currency', (eb) => eb.fn.sum<number>('price_minor').as('sum')])
    .where('state', '=', 'asked')
    .groupBy('currency')
    .execute()
  const sums = new Map<string, number>()
  for (const { currency, sum } of [...paid, ...asked])
    if (currency !== null) sums.set(currency, (sums.get(currency) ?? 0) + Number(sum ?? 0))
  return sums
}

/** Nothing is paid beyond the limit that was set. @throws {DomainError} over-limit, with the figures. */
export async function requireWithinLimit(db: Db, sums: ReadonlyMap<string, number>, day: string): Promise<void> {
  const limits = await loadLimits(db)
  const spent = await spentInMonth(db, day)
  for (const [currency, sum] of sums) {
    const limit = limits[currency]
    const before = spent.get(currency) ?? 0
    if (limit === undefined || sum === 0 || before + sum <= limit) continue
    throw new DomainError(
      'over-limit',
      messages.thisCostsThatYouSet(money(sum, currency), money(before, currency), money(limit, currency)),
    )
  }
}
