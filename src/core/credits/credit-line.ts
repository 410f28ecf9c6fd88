/** What a credit line is made of. */
export interface Credit {
  readonly title: string
  /** Empty when the source names no maker. */
  readonly maker: string
  readonly sourceName: string
  /** Address of the sound at its source, or null. */
  readonly pageUrl: string | null
  readonly licenceTitle: string
  readonly licenceUrl: string | null
  /** What was done to the sound: "cut, mixed". Empty for nothing. */
  readonly changes: string
}

/**
 * One credit line: title, maker, source, licence with its address, and a note of changes.
 *
 * The parts are those that attribution licences ask for (title, creator, source, licence, changes). Line breaks and
 * control characters from outside become spaces, so that a line stays one line.
 */
export function creditLine(credit: Credit): string {
  const by = credit.maker ? ` by ${credit.maker}` : ''
  const where = [credit.sourceName, credit.pageUrl].filter(Boolean).join(', ')
  const licence = credit.licenceUrl ? `${credit.licenceTitle} (${credit.licenceUrl})` : credit.licenceTitle
  const changes = credit.changes ? ` — ${credit.changes}` : ''
  return oneLine(`“${credit.title}”${by} (${where}), ${licence}${changes}`)
}

/** The block for the description: a heading and the lines, each once, in the order given. Empty for no lines. */
export function creditsText(lines: readonly string[]): string {
  const unique = [...new Set(lines)]
  return unique.length === 0 ? '' : ['Sound effects', ...unique.map((line) => `• ${line}`)].join('\n')
}

function oneLine(text: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is removed here
  return text.replace(/[\u0000-\u001f\u007f\u2028\u2029\s]+/g, ' ').trim()
}
