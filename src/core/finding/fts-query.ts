/** More words than this in one query are ignored. */
const MAX_WORDS = 12

/**
 * Turns what a person types into a full-text query: every word must be there, each as a prefix.
 *
 * Anything that is not a letter or digit separates words, so no input can be read as query syntax.
 *
 * @returns Null when no word is left: list everything.
 */
export function ftsQuery(text: string): string | null {
  const words =
    text
      .normalize('NFC')
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu) ?? []
  if (words.length === 0) return null
  return words
    .slice(0, MAX_WORDS)
    .map((word) => `"${word}"*`)
    .join(' ')
}
