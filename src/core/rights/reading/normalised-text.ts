/** Words that are spelt in two ways, and count as one. Source: SPDX License List matching guidelines, section 8, those that occur here. */
const VARIANTS: readonly (readonly [RegExp, string])[] = [
  [/licenc/g, 'licens'],
  [/\b(\w+)isation\b/g, '$1ization'],
  [/\b(\w{3,})ise(d|s)?\b/g, '$1ize$2'],
  [/\bcopyright (?:\(c\)|©)/g, 'copyright'],
  [/\bhttps?:\/\//g, 'https://'],
]

/**
 * A text with all that two copies of one licence may differ in made alike: case, white space, quotes, dashes, bullets, spelling.
 *
 * Source: SPDX License List matching guidelines, sections 3 to 10.
 */
export function normalisedText(text: string): string {
  const plain = text
    .toLowerCase()
    .replace(/[“”«»„]/g, '"')
    .replace(/[‘’`´]/g, "'")
    .replace(/[‐-―−]/g, '-')
    .replace(/^[ \t]*(?:[-*•·]|\(?(?:\d{1,3}|[ivxl]{1,5}|[a-z])[.)])[ \t]+/gm, ' ')
    .replace(/[=_*#-]{3,}/g, ' ')
  const spelt = VARIANTS.reduce((now, [pattern, with_]) => now.replace(pattern, with_), plain)
  return spelt.replace(/\s+/g, ' ').trim()
}

/** The words of a text in the form in which licences are compared. */
export function wordsOf(text: string): string[] {
  return normalisedText(text).match(/[\p{L}\p{N}']+/gu) ?? []
}
