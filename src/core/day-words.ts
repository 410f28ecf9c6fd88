/**
 * A day as everyone writes it: "9 Dec 2026".
 *
 * @param iso A day, YYYY-MM-DD, or a time of ISO 8601, of which the day in UTC is told. What is none of them is given back as it is.
 */
export function dayWords(iso: string): string {
  const at = new Date(iso)
  // 30 February is none either: it would be told as another day.
  if (Number.isNaN(at.getTime()) || (iso.length === 10 && !at.toISOString().startsWith(iso))) return iso
  return at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })
}
