/** A sum for people: "4.50 EUR". @param minor In the smallest unit. */
export function money(minor: number, currency: string): string {
  return `${(minor / 100).toFixed(2)} ${currency}`
}
