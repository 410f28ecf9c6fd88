import { sources as messages } from '../../messages/server/sources'
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
  throw new SourceError('price-changed', messages.nowAsksForWereAgreed(libraryName, inWords(asked), inWords(agreed)))
}

/** After it was paid: what was charged is what was agreed. @throws {SourceError} overcharged */
export function requireCharged(libraryName: string, order: string, agreed: Amount, charged: Amount): void {
  if (isSameAmount(agreed, charged)) return
  throw new SourceError(
    'overcharged',
    messages.chargedForOrderWereAgreed(libraryName, inWords(charged), order, inWords(agreed)),
  )
}

/** Whether two amounts are the same, currency included. */
export function isSameAmount(one: Amount, other: Amount): boolean {
  return one.priceMinor === other.priceMinor && one.currency === other.currency
}

function inWords({ priceMinor, currency }: Amount): string {
  return money(priceMinor, currency)
}
