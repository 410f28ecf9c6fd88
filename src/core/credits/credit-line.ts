import { credits as messages } from '../wording/credits'

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
  /** The form that the terms ask for, with {title}, {maker} and {source}; null for ours. */
  readonly template?: string | null
}

/**
 * One credit line: title, maker, source, licence with its address, and a note of changes.
 *
 * The parts are those that attribution licences ask for (title, creator, source, licence, changes). Line breaks and
 * control characters from outside become spaces, so that a line stays one line.
 */
export function creditLine(credit: Credit): string {
  if (credit.template) return oneLine(filled(credit.template, credit))
  const by = credit.maker ? ` by ${credit.maker}` : ''
  const where = [credit.sourceName, credit.pageUrl].filter(Boolean).join(', ')
  const licence = credit.licenceUrl ? `${credit.licenceTitle} (${credit.licenceUrl})` : credit.licenceTitle
  const changes = credit.changes ? ` — ${credit.changes}` : ''
  return oneLine(`“${credit.title}”${by} (${where}), ${licence}${changes}`)
}

/** Puts title, maker and source into the form that terms ask for; where no maker is named, the source stands for it. */
function filled(template: string, { title, maker, sourceName }: Credit): string {
  const parts: Readonly<Record<string, string>> = { title, maker: maker || sourceName, source: sourceName }
  return template.replace(/\{(title|maker|source)\}/g, (_, part: string) => parts[part] as string)
}

/** The block for the description: a heading and the lines, each once, in the order given. Empty for no lines. */
export function creditsText(lines: readonly string[]): string {
  const unique = [...new Set(lines)]
  return unique.length === 0 ? '' : [messages.soundEffects, ...unique.map((line) => `• ${line}`)].join('\n')
}

function oneLine(text: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is removed here
  return text.replace(/[\u0000-\u001f\u007f\u2028\u2029\s]+/g, ' ').trim()
}
