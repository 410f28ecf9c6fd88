/** How many decimals a currency has. @param currency Code of ISO 4217. */
export function currencyDecimals(currency: string): number {
  return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
}

/** A sum for people: "4.50 EUR", "450 JPY". @param minor In the smallest unit. */
export function money(minor: number, currency: string): string {
  const decimals = currencyDecimals(currency)
  return `${(minor / 10 ** decimals).toFixed(decimals)} ${currency}`
}

/** Sums by currency for people: "nothing", "4.50 EUR and 450 JPY". */
export function moneyOf(sums: Iterable<readonly [currency: string, minor: number]>): string {
  return [...sums].map(([currency, minor]) => money(minor, currency)).join(' and ') || 'nothing'
}
