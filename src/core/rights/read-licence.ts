import { KNOWN_LICENCES } from './known-licences'
import { proposedClauses } from './phrase-rules'
import type { ProposedClause } from './proposed-clause'

/** How a licence was recognised, the surest way first. */
export type RecognisedBy = 'text' | 'identifier' | 'url' | 'name'

/** A known licence that a text is, or that it names. */
export interface RecognisedLicence {
  readonly spdxId: string
  readonly by: RecognisedBy
  /** The words that it was recognised by; for a whole text its first words. */
  readonly quote: string
  /** 0 to 1. */
  readonly confidence: number
}

/** What a text says about rights, as far as it can be told. A proposal: it is never taken for papers by itself. */
export interface LicenceReading {
  /** At most one for each licence, the surest first. More than one is for the creator to decide. */
  readonly licences: readonly RecognisedLicence[]
  /** Clauses that phrases of the text speak for; points on which it is silent, or speaks both ways, are left out. */
  readonly clauses: readonly ProposedClause[]
}

/** A text is a known licence when this much of their word triples is the same. Measured: the nearest two of the family share 0.94. */
const SAME_TEXT = 0.97
/** A text shorter than this share of a licence is not compared with it, words. */
const LENGTH_RATIO_MIN = 0.8
const QUOTE_LENGTH = 120

/**
 * Reads a licence text, a tag, an address or the contents of a README.
 *
 * @param known Full texts of the known licences, by SPDX identifier.
 */
export function readLicence(text: string, known: ReadonlyMap<string, string>): LicenceReading {
  const whole = sameText(text, known)
  const named = whole ? [] : [...byIdentifier(text), ...byAddress(text), ...byName(text)]
  const licences: RecognisedLicence[] = whole ? [whole] : []
  for (const licence of named) if (!licences.some(({ spdxId }) => spdxId === licence.spdxId)) licences.push(licence)
  return { licences, clauses: whole ? [] : proposedClauses(text) }
}

/** Words that are spelt in two ways, and count as one. Source: SPDX License List matching guidelines, section 8, those that occur here. */
const VARIANTS: readonly (readonly [RegExp, string])[] = [
  [/licenc(?=e|ing|or)/g, 'licens'],
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
    .replace(/^\s*(?:[-*•·]|\(?[0-9a-z]{1,4}[.)])\s+/gm, ' ')
    .replace(/[=_*#-]{3,}/g, ' ')
  const spelt = VARIANTS.reduce((now, [pattern, with_]) => now.replace(pattern, with_), plain)
  return spelt.replace(/\s+/g, ' ').trim()
}

function sameText(text: string, known: ReadonlyMap<string, string>): RecognisedLicence | null {
  const words = wordsOf(text)
  let best: { spdxId: string; share: number } | null = null
  for (const [spdxId, licenceText] of known) {
    const others = wordsOf(licenceText)
    if (Math.min(words.length, others.length) < LENGTH_RATIO_MIN * Math.max(words.length, others.length)) continue
    const share = sharedTriples(words, others)
    if (share >= SAME_TEXT && share > (best?.share ?? 0)) best = { spdxId, share }
  }
  if (!best) return null
  const quote = text.trim().replace(/\s+/g, ' ').slice(0, QUOTE_LENGTH)
  return { spdxId: best.spdxId, by: 'text', quote, confidence: Math.min(1, best.share) }
}

function wordsOf(text: string): string[] {
  return normalisedText(text).match(/[\p{L}\p{N}']+/gu) ?? []
}

/** Share of word triples that two texts have in common, 0 to 1. Source: L. R. Dice, Ecology 26, 1945, over multisets. */
function sharedTriples(a: readonly string[], b: readonly string[]): number {
  const count = new Map<string, number>()
  for (let i = 0; i + 2 < a.length; i++) {
    const triple = `${a[i]} ${a[i + 1]} ${a[i + 2]}`
    count.set(triple, (count.get(triple) ?? 0) + 1)
  }
  let shared = 0
  for (let i = 0; i + 2 < b.length; i++) {
    const triple = `${b[i]} ${b[i + 1]} ${b[i + 2]}`
    const left = count.get(triple) ?? 0
    if (left === 0) continue
    count.set(triple, left - 1)
    shared++
  }
  return (2 * shared) / Math.max(1, a.length + b.length - 4)
}

function found(spdxId: string, by: RecognisedBy, quote: string, confidence: number): RecognisedLicence[] {
  return KNOWN_LICENCES.has(spdxId) ? [{ spdxId, by, quote, confidence }] : []
}

/** SPDX identifiers, with or without the tag that goes before them in files. */
function byIdentifier(text: string): RecognisedLicence[] {
  return [...text.matchAll(/\bCC(?:0|-BY(?:-NC)?(?:-SA|-ND)?|-PDM)-\d\.\d\b/gi)].flatMap(([quote]) =>
    found(quote.toUpperCase(), 'identifier', quote, 0.98),
  )
}

function byAddress(text: string): RecognisedLicence[] {
  const pattern =
    /\b(?:https?:\/\/)?(?:www\.)?creativecommons\.org\/(?:licenses\/(by(?:-nc)?(?:-sa|-nd)?)\/(\d\.\d)|publicdomain\/(zero|mark)\/(\d\.\d))(?![\w.-])[^\s<>"')]*/gi
  return [...text.matchAll(pattern)].flatMap(([quote, elements, version, kind, kindVersion]) => {
    const spdxId = elements
      ? `CC-${elements.toUpperCase()}-${version}`
      : kind?.toLowerCase() === 'zero'
        ? `CC0-${kindVersion}`
        : `CC-PDM-${kindVersion}`
    return found(spdxId, 'url', quote, 0.97)
  })
}

const ELEMENT_WORDS: readonly (readonly [RegExp, string])[] = [
  [/non-?\s?commercial|\bnc\b/i, 'NC'],
  [/share-?\s?alike|\bsa\b/i, 'SA'],
  [/no-?\s?deriv\w*|\bnd\b/i, 'ND'],
]

/** "CC BY-NC 3.0", "Creative Commons Attribution-ShareAlike 4.0 International". A name without its version is not enough. */
function byName(text: string): RecognisedLicence[] {
  const zero = [...text.matchAll(/\bCC\s?0\b(?:\s+1\.0)?|\bCreative Commons Zero\b/gi)].flatMap(([quote]) =>
    found('CC0-1.0', 'name', quote, 0.9),
  )
  const pattern =
    /\b(?:CC|Creative Commons)[\s:,-]{1,3}(?:BY|Attribution)((?:[\s-]{1,3}(?:NC|SA|ND|Non-?\s?Commercial|Share-?\s?Alike|No-?\s?Deriv(?:ative)?s?(?: Works)?))*)[\s,-]{1,3}(?:License|Licence)?\s?(\d\.\d)\b/gi
  const family = [...text.matchAll(pattern)].flatMap(([quote, elements = '', version]) => {
    const parts = ELEMENT_WORDS.filter(([word]) => word.test(elements)).map(([, element]) => element)
    return found(`CC-${['BY', ...parts].join('-')}-${version}`, 'name', quote, 0.9)
  })
  return [...zero, ...family]
}
