import type { QueryPart } from './query'
import { FIELD_MARK, FIELD_SHIFT, FIELDS, POSITION_MASK, type Segment } from './segment'
import type { Vocabulary } from './vocabulary'
import type { WordIndex } from './word-index'
import { stemOf } from './words'

/** How near what was found is to what was typed; the nearest first. */
export const MATCH_TIERS = ['exact', 'stem', 'prefix', 'synonym', 'narrower', 'typo', 'broader'] as const
export type Nearness = (typeof MATCH_TIERS)[number]

/** Points for a word in a field, when it is the very word that was typed. Title before tags before description. */
const FIELD_POINTS: Readonly<Record<(typeof FIELDS)[number], number>> = {
  'title-first': 106,
  title: 100,
  tags: 62,
  category: 52,
  maker: 45,
  folder: 35,
  description: 28,
}

/** Share of the points for what is near. Exact before stem before synonym before typing error. */
const NEARNESS_SHARE: Readonly<Record<Nearness, number>> = {
  exact: 1,
  stem: 0.86,
  prefix: 0.75,
  synonym: 0.5,
  narrower: 0.44,
  typo: 0.42,
  broader: 0.25,
}

/** Most points that one word can give. */
export const POINTS_MAX = FIELD_POINTS['title-first']

/** Points by field, for each nearness. */
const POINTS: Readonly<Record<Nearness, Uint8Array>> = Object.fromEntries(
  MATCH_TIERS.map((nearness) => [
    nearness,
    Uint8Array.from(FIELDS, (field) => Math.round(FIELD_POINTS[field] * NEARNESS_SHARE[nearness])),
  ]),
) as Record<Nearness, Uint8Array>

/**
 * Points of every sound for one part of a query: the best of all words and expressions that answer to it.
 *
 * @param points Made zero first; one for each sound. Modified.
 * @param meant What is taken for the typed word where that stands nowhere; null where it does.
 */
export function partPoints(
  segment: Segment,
  index: WordIndex,
  vocabulary: Vocabulary,
  part: QueryPart,
  points: Uint8Array,
  meant: string | null = null,
): void {
  points.fill(0)
  partAnswers(segment, index, vocabulary, part, meant).give(points)
}

/** Words and expressions that answer to one part of a query. @param meant As for `partPoints`. */
export function partAnswers(
  segment: Segment,
  index: WordIndex,
  vocabulary: Vocabulary,
  part: QueryPart,
  meant: string | null,
): Answers {
  const answers = new Answers(segment, index)
  if (part.quoted || part.words.length > 1) answers.expression(part.words, 'exact')
  else {
    const word = meant ?? (part.words[0] as string)
    const [from, to] = index.prefix(word)
    for (let at = from; at < to; at++)
      answers.word(at, meant ? 'typo' : segment.words[at] === word ? 'exact' : 'prefix')
    for (const at of index.stems(stemOf(word))) answers.word(at, meant ? 'typo' : 'stem')
    for (const [expression, nearness] of alike(vocabulary, word)) answers.near(expression, meant ? 'broader' : nearness)
  }
  return answers
}

const SHARE_OF = { same: 'synonym', narrower: 'narrower', broader: 'broader' } as const

/** Expressions that a word stands for by the vocabulary, and how near each is. */
function alike(vocabulary: Vocabulary, word: string): [expression: string, nearness: Nearness][] {
  const apart = vocabulary.apart(word)
  const related = vocabulary.related(word) ?? (apart === null ? null : vocabulary.related(apart))
  const near = (['same', 'narrower', 'broader'] as const).flatMap((nearness) =>
    (related?.[nearness] ?? []).map((one): [string, Nearness] => [one, SHARE_OF[nearness]]),
  )
  return apart === null ? near : [[apart, 'stem'], ...near]
}

/** Whether a word, or one that means the same, stands anywhere. */
export function isKnown(index: WordIndex, vocabulary: Vocabulary, word: string): boolean {
  const [from, to] = index.prefix(word)
  if (to > from || index.stems(stemOf(word)).length > 0) return true
  return alike(vocabulary, word).some(([other]) => other.split(' ').every((one) => index.stems(stemOf(one)).length > 0))
}

/** What several typed words mean together ("build up" for "riser") answers to each of them. */
export function expressionAnswers(
  segment: Segment,
  index: WordIndex,
  vocabulary: Vocabulary,
  expression: string,
): Answers {
  const answers = new Answers(segment, index)
  for (const nearness of ['same', 'narrower'] as const)
    for (const other of vocabulary.related(expression)?.[nearness] ?? []) answers.near(other, SHARE_OF[nearness])
  return answers
}

/** Marks sounds that have what must not be there. @param marks One for each sound; 1 is set. Modified. */
export function markExcluded(segment: Segment, index: WordIndex, part: QueryPart, marks: Uint8Array): void {
  const mark = (sound: number): void => {
    marks[sound] = 1
  }
  if (part.words.length > 1) {
    const numbers = part.words.map((word) => index.exact(word))
    if (numbers.every((one) => one >= 0)) phraseHits(segment, index, numbers, mark)
    return
  }
  const word = part.words[0] as string
  const own = part.quoted ? [index.exact(word)] : [index.exact(word), ...index.stems(stemOf(word))]
  for (const at of own) if (at >= 0) eachPosting(segment, at, mark)
}

/** The words that answer to a part of a query, each at its nearest, and expressions of several words. */
export class Answers {
  private readonly words = new Map<number, Nearness>()
  private readonly phrases: { readonly numbers: readonly number[]; readonly nearness: Nearness }[] = []

  constructor(
    private readonly segment: Segment,
    private readonly index: WordIndex,
  ) {}

  /** @param word Index of a word. Of two nearnesses the one with more points counts. */
  word(word: number, nearness: Nearness): void {
    const before = this.words.get(word)
    if (before === undefined || NEARNESS_SHARE[nearness] > NEARNESS_SHARE[before]) this.words.set(word, nearness)
  }

  /** Words in a row. */
  expression(words: readonly string[], nearness: Nearness): void {
    const numbers = words.map((word) => this.index.exact(word))
    if (numbers.some((one) => one < 0)) return
    if (numbers.length === 1) this.word(numbers[0] as number, nearness)
    else this.phrases.push({ numbers, nearness })
  }

  /** An expression of the vocabulary; a single word by its stem. */
  near(expression: string, nearness: Nearness): void {
    const words = expression.split(' ')
    if (words.length > 1) this.expression(words, nearness)
    else for (const at of this.index.stems(stemOf(expression))) this.word(at, nearness)
  }

  /** Goes once through the postings of each. @param points Raised where they are lower. Modified. */
  give(points: Uint8Array): void {
    for (const { numbers, nearness } of this.phrases)
      phraseHits(this.segment, this.index, numbers, (sound, field) => {
        const value = POINTS[nearness][field] as number
        if (value > (points[sound] as number)) points[sound] = value
      })
    for (const [word, nearness] of this.words) givePoints(this.segment, word, POINTS[nearness], points)
  }

  /** Whether one of them stands in some fields of a sound. @param fields For each of `FIELDS`, whether it counts. */
  standIn(sound: number, fields: readonly boolean[]): boolean {
    const { tokens, tokenStarts } = this.segment
    const end = tokenStarts[sound + 1] as number
    let counts = false
    for (let at = tokenStarts[sound] as number; at < end; at++) {
      const token = tokens[at] as number
      if (token >= FIELD_MARK) counts = fields[token - FIELD_MARK] === true
      else if (counts && (this.words.has(token) || this.phraseBegins(at, end))) return true
    }
    return false
  }

  private phraseBegins(at: number, end: number): boolean {
    return this.phrases.some(({ numbers }) => isPhraseAt(this.segment.tokens, numbers, at, end))
  }
}

function givePoints({ starts, postings }: Segment, word: number, table: Uint8Array, points: Uint8Array): void {
  const end = starts[word + 1] as number
  for (let at = starts[word] as number; at < end; at++) {
    const posting = postings[at] as number
    const sound = posting & POSITION_MASK
    const value = table[posting >>> FIELD_SHIFT] as number
    const before = points[sound] as number
    points[sound] = Math.max(value, before)
  }
}

function eachPosting({ starts, postings }: Segment, word: number, act: (sound: number) => void): void {
  const end = starts[word + 1] as number
  for (let at = starts[word] as number; at < end; at++) act((postings[at] as number) & POSITION_MASK)
}

/** Calls with every sound that has some words in a row within one field, and the field. */
function phraseHits(
  segment: Segment,
  index: WordIndex,
  numbers: readonly number[],
  act: (sound: number, field: number) => void,
): void {
  // The rarest word says which sounds are looked at.
  const rarest = numbers.reduce((a, b) => (index.frequency(b) < index.frequency(a) ? b : a))
  eachPosting(segment, rarest, (sound) => {
    const field = phraseField(segment, sound, numbers)
    if (field >= 0) act(sound, field)
  })
}

/** The first field in which some words stand in a row; -1 when they do in none. */
function phraseField({ tokens, tokenStarts }: Segment, sound: number, words: readonly number[]): number {
  const end = tokenStarts[sound + 1] as number
  let field = 0
  for (let at = tokenStarts[sound] as number; at < end; at++) {
    const token = tokens[at] as number
    if (token >= FIELD_MARK) field = token - FIELD_MARK
    else if (isPhraseAt(tokens, words, at, end)) return field
  }
  return -1
}

function isPhraseAt(tokens: Uint32Array, words: readonly number[], at: number, end: number): boolean {
  return at + words.length <= end && words.every((word, step) => tokens[at + step] === word)
}
