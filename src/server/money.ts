import { currencyDecimals } from '../core/currency'

/** A sum as a plain number: "4.50", "450". @param minor In the smallest unit. */
export function amountOf(minor: number, currency: string): string {
  const decimals = currencyDecimals(currency)
  return (minor / 10 ** decimals).toFixed(decimals)
}

/** A sum for people: "4.50 EUR", "450 JPY". @param minor In the smallest unit. */
export function money(minor: number, currency: string): string {
  return `${amountOf(minor, currency)} ${currency}`
}

/** Sums by currency for people: "nothing", "4.50 EUR and 450 JPY". */
export function moneyOf(sums: Iterable<readonly [currency: string, minor: number]>): string {
  return [...sums].map(([currency, minor]) => money(minor, currency)).join(' and ') || 'nothing'
}
