import { diffArrays } from 'diff'
import { wordsOf } from './normalised-text'

/** What a text has more or less than the licence that it is nearest to. */
export interface LicenceDifference {
  /** Words that stand in the text and not in the licence, by places. */
  readonly added: readonly string[]
  /** Words of the licence that the text lacks, by places. */
  readonly missing: readonly string[]
}

export interface NearestLicence {
  readonly spdxId: string
  /** Null when it is that licence and nothing else. */
  readonly difference: LicenceDifference | null
}

/** From this share of common word triples on a text is compared with a licence word by word. */
const NEAR = 0.4
/** A text that differs in more words than this is none of the licences. */
const EDITS_MAX = 1500
const LENGTH_RATIO_MAX = 6
const PLACES_SHOWN = 30
const WORDS_SHOWN = 60
/** A title in another form may differ within so many words from the beginning. */
const TITLE_WORDS = 16
const TITLE = new Set(
  'creative commons legal code attribution noncommercial non commercial sharealike share alike noderivatives noderivs no derivatives international unported universal public domain dedication license cc0 cc by nc sa nd 1 0 3 4'.split(
    ' ',
  ),
)

/**
 * The known licence that a text is, or is nearest to; null where it is like none.
 *
 * It is that licence only when nothing else is left: notices of copyright and tags that name that very licence are set aside, and its
 * title may be written in another form.
 *
 * @param known Full texts, by SPDX identifier.
 */
export function nearestLicence(text: string, known: ReadonlyMap<string, string>): NearestLicence | null {
  const words = wordsOf(withoutNotices(text))
  const best = [...known]
    // A text so much shorter cannot have the share in common.
    .filter(([, licence]) => text.length * LENGTH_RATIO_MAX >= licence.length)
    .map(([spdxId, licence]) => ({ spdxId, other: wordsOf(licence) }))
    .map((one) => ({ ...one, share: sharedTriples(words, one.other) }))
    .reduce((most, next) => (next.share > most.share ? next : most), { spdxId: '', other: [] as string[], share: 0 })
  if (best.share < NEAR) return null
  const changes = diffArrays(best.other, words, { maxEditLength: EDITS_MAX })
  if (!changes) return null
  const added: string[] = []
  const missing: string[] = []
  let at = 0
  for (const change of changes) {
    const isTitle = at < TITLE_WORDS && change.value.every((word) => TITLE.has(word))
    if (!change.removed) at += change.value.length
    if (isTitle || (!change.added && !change.removed)) continue
    const [into, short] = [change.added ? added : missing, change.value.slice(0, WORDS_SHOWN).join(' ')]
    if (into.length < PLACES_SHOWN) into.push(short)
  }
  const same = added.length === 0 && missing.length === 0
  return { spdxId: best.spdxId, difference: same ? null : { added, missing } }
}

const NOTICE_LENGTH_MAX = 160

/** A text without the lines that only say whose copyright it is. Source: SPDX License List matching guidelines, section 9. */
function withoutNotices(text: string): string {
  return text
    .split('\n')
    .filter((line) => !isNotice(line.trim()))
    .join('\n')
}

function isNotice(line: string): boolean {
  if (line.length > NOTICE_LENGTH_MAX) return false
  // A year and a name, and nothing that a sentence could be made of.
  return /^(?:copyright|©|\(c\))(?: ?(?:\(c\)|©))?(?: \d{4}(?:-\d{4})?,?)? (?:by )?\p{Lu}[\p{L}'-]*(?: (?:and |& )?\p{Lu}[\p{L}'-]*){0,4}\.?$/iu.test(
    line,
  )
    ? !/\b(?:not|no|only|may|must|never|reserved|use|used|without|except)\b/i.test(line)
    : false
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
