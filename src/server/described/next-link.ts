/** The address that a header Link names as the next page (RFC 8288); null where it names none. */
export function nextLink(header: string): string | null {
  for (let at = header.indexOf('<'); at >= 0; at = header.indexOf('<', at + 1)) {
    const end = header.indexOf('>', at)
    if (end < 0) return null
    const following = header.indexOf('<', end)
    const parameters = header.slice(end + 1, following < 0 ? undefined : following)
    if (/;\s*rel\s*=\s*"?next"?\s*(?:[;,]|$)/i.test(parameters)) return header.slice(at + 1, end)
  }
  return null
}
