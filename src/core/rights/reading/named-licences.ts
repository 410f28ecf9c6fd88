import { KNOWN_LICENCES } from '../known-licences'
import { type Sentence, sentencesOf } from './sentences'

/** How a licence was recognised, the surest way first. */
export type RecognisedBy = 'text' | 'identifier' | 'url' | 'name'

/** A licence that a sentence names in a way that leaves no doubt that it holds. */
export interface NamedLicence {
  readonly spdxId: string
  readonly by: Exclude<RecognisedBy, 'text'>
  /** The words that name it. */
  readonly quote: string
  readonly confidence: number
  /** The sentence in which they stand. */
  readonly sentence: string
}

/**
 * What makes a name no more than a mention: what denies it, was so once, hangs on something, adds to it, compares with it, or speaks of
 * something else than the sounds.
 */
const DOUBTS =
  /\b(?:not|no|never|none|neither|nor|cannot|\w+n't|without|unlike|instead|except\w*|exclud\w*|other than|apart from|formerly|previously|once|until|used to|was|were|old|older|earlier|no longer|till|before|after|from \d{4}|if|when|unless|provided|for (?:subscribers|members|customers|patrons|supporters|students|schools|personal|private)|subscribers?|members?|patrons?|only|some|most|many|parts? of|certain|optional|optionally|or|also available|available separately|dual|either|compatible\w*|compatibility|similar|like|comparable|equivalent|inspired|based on|adapted from|such as|e\.g\.|for example|example|see also|compare|non-?\s?commercial\w*|nc|no-?\s?deriv\w*|nd|share-?\s?alike|sa|but|however|additional\w*|plus|further|restrict\w*|exception|exceptions|modified|modification|amended|version of|music|songs?|tracks?|images?|photos?|pictures?|fonts?|code|software|documentation|website|text|texts|video|videos|footage|logo|may|might|could|should|would|request|contact|ask)\b/i

/** Licences that a text names as its own. At most one for each licence. */
export function namedLicences(text: string): NamedLicence[] {
  const out: NamedLicence[] = []
  for (const sentence of sentencesOf(text))
    for (const named of namedIn(sentence)) if (!out.some(({ spdxId }) => spdxId === named.spdxId)) out.push(named)
  return out.sort((a, b) => b.confidence - a.confidence)
}

function namedIn({ quote, text }: Sentence): NamedLicence[] {
  const found = [...byIdentifier(quote), ...byAddress(quote), ...byName(quote)]
  if (found.length === 0) return []
  // What names it is taken out: "NonCommercial" in the name of the licence is no further element.
  const rest = found.reduce((left, { quote: name }) => left.split(name).join(' '), text)
  const isDoubtful = DOUBTS.test(rest) || /[?]/.test(rest) || hasOtherLicence(rest)
  return isDoubtful ? [] : found.map((one) => ({ ...one, sentence: quote }))
}

/** What is left still looks like the name of a licence that is not read by heart. */
function hasOtherLicence(rest: string): boolean {
  return /\b(?:CC[ -]?(?:BY|0)|creative ?commons\.\w+|creative commons|gpl|mit licen[cs]e|apache|bsd)\b/i.test(rest)
}

type Name = Omit<NamedLicence, 'sentence'>

function licence(spdxId: string, by: NamedLicence['by'], quote: string, confidence: number): Name[] {
  return KNOWN_LICENCES.has(spdxId) ? [{ spdxId, by, quote, confidence }] : []
}

/** SPDX identifiers, with or without the tag that goes before them in files. */
function byIdentifier(text: string): Name[] {
  return [...text.matchAll(/(?<![\w.-])CC(?:0|-BY(?:-NC)?(?:-SA|-ND)?|-PDM)-\d\.\d(?![\w-]|\.\w)/gi)].flatMap(
    ([quote]) => licence(quote.toUpperCase(), 'identifier', quote, 0.98),
  )
}

/** Addresses on the host of the licences themselves. */
function byAddress(text: string): Name[] {
  const pattern =
    /(?<![\w.@:/-])(?:https?:\/\/)?(?:www\.)?creativecommons\.org\/(?:licenses\/(by(?:-nc)?(?:-sa|-nd)?)\/(\d\.\d)|publicdomain\/(zero|mark)\/(\d\.\d))(?![\w.-])[^\s<>"')]*/gi
  return [...text.matchAll(pattern)].flatMap(([quote, elements, version, kind, kindVersion]) => {
    const spdxId = elements
      ? `CC-${elements.toUpperCase()}-${version}`
      : kind?.toLowerCase() === 'zero'
        ? `CC0-${kindVersion}`
        : `CC-PDM-${kindVersion}`
    return licence(spdxId, 'url', quote, 0.97)
  })
}

const ELEMENT_WORDS: readonly (readonly [RegExp, string])[] = [
  [/non-?\s?commercial|\bnc\b/i, 'NC'],
  [/share-?\s?alike|\bsa\b/i, 'SA'],
  [/no-?\s?deriv\w*|\bnd\b/i, 'ND'],
]

/** "CC BY-NC 3.0", "Creative Commons Attribution-ShareAlike 4.0 International". A name without its version is not enough. */
function byName(text: string): Name[] {
  const zero = [...text.matchAll(/\bCC\s?0\b(?![-.]\d|-\w)(?:\s+1\.0)?|\bCreative Commons Zero\b(?: 1\.0)?/gi)].flatMap(
    ([quote]) => licence('CC0-1.0', 'name', quote, 0.9),
  )
  const pattern =
    /\b(?:CC|Creative Commons)[\s:,-]{1,3}(?:BY|Attribution)((?:[\s-]{1,3}(?:NC|SA|ND|Non-?\s?Commercial|Share-?\s?Alike|No-?\s?Deriv(?:ative)?s?(?: Works)?))*)[\s,-]{1,3}(?:License|Licence)?\s?(\d\.\d)(?![\w-]|\.\w)(?: (?:International|Unported))?/gi
  const family = [...text.matchAll(pattern)].flatMap(([quote, elements = '', version]) => {
    const parts = ELEMENT_WORDS.filter(([word]) => word.test(elements)).map(([, element]) => element)
    return licence(`CC-${['BY', ...parts].join('-')}-${version}`, 'name', quote, 0.9)
  })
  return [...zero, ...family]
}
