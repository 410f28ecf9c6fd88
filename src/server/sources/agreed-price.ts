import { money } from '../money'
import { SourceError } from '../ports/connector'

/** An amount in the smallest unit of a currency (ISO 4217). */
export interface Amount {
  readonly priceMinor: number
  readonly currency: string
}

/** Before anything is paid: what a library asks is what was agreed, in amount and currency. @throws {SourceError} price-changed */
export function requireAgreed(libraryName: string, agreed: Amount, asked: Amount): void {
  if (isSameAmount(agreed, asked)) return
  throw new SourceError(
    'price-changed',
    `${libraryName} now asks ${inWords(asked)} for it; ${inWords(agreed)} were agreed. Nothing was bought. Sync the library, look at the price and decide again.`,
  )
}

/** After it was paid: what was charged is what was agreed. @throws {SourceError} overcharged */
export function requireCharged(libraryName: string, order: string, agreed: Amount, charged: Amount): void {
  if (isSameAmount(agreed, charged)) return
  throw new SourceError(
    'overcharged',
    `${libraryName} charged ${inWords(charged)} for order ${order}; ${inWords(agreed)} were agreed. Write to them and name the order; it is not placed again.`,
  )
}

/** Whether two amounts are the same, currency included. */
export function isSameAmount(one: Amount, other: Amount): boolean {
  return one.priceMinor === other.priceMinor && one.currency === other.currency
}

function inWords({ priceMinor, currency }: Amount): string {
  return money(priceMinor, currency)
}
