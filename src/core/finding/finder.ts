import { type Answer, type Part, SEVERAL } from './answer'
import { type Condition, conditionOf, type FitTable, fitColumn, positionOf } from './conditions'
import { COUNTERS, type CountKind, type FindCounts } from './counts'
import type { Filter, FilterKind } from './filters'
import { merged, orderedIds, type Sort } from './order'
import { expressionPoints, isKnown, markExcluded, partPoints } from './points'
import type { Query, QueryPart } from './query'
import { Names, type Segment } from './segment'
import type { Vocabulary } from './vocabulary'
import { nearestWord, WordIndex } from './word-index'

export interface FindRequest {
  readonly query: Pick<Query, 'parts' | 'filters'>
  readonly sort: Sort
  readonly limit: number
  readonly offset: number
  /** Vector of length 1 that results have to sound like. */
  readonly like: Float32Array | null
  /** Sound that is left out, since it is the one that is compared with. */
  readonly except: number | null
  readonly fits: FitTable | null
}

export interface FindResult {
  readonly ids: readonly number[]
  /** How alike each is, 0 to 1; empty where nothing is compared with. */
  readonly likeness: readonly number[]
  readonly total: number
  readonly catalogueTotal: number
  /** Words that stand nowhere, and what was taken for them. */
  readonly corrections: readonly { readonly typed: string; readonly shown: string }[]
  /** How many sounds that answer to the words each condition hides, and how many it alone hides. */
  readonly hides: readonly { readonly kind: FilterKind; readonly hidden: number; readonly hiddenByItAlone: number }[]
}

/** Levels of popularity that break ties between results with the same points. */
const POPULARITY_LEVELS = 16

/**
 * The search over all sounds, in memory: an inverted index with prefixes, stems, synonyms and typing errors, conditions over columns,
 * counts, and exact nearest neighbours by sound.
 *
 * It consists of one large segment and a small one with what changed since; both are immutable.
 */
export class Finder {
  readonly names = new Names()
  private parts: Part[] = []
  private last: {
    readonly key: string
    readonly answers: Answer[]
    readonly corrections: FindResult['corrections']
  } | null = null
  private points: Uint8Array[] = []
  vocabulary: Vocabulary

  constructor(vocabulary: Vocabulary) {
    this.vocabulary = vocabulary
  }

  /** Takes a whole new index. */
  replace(segment: Segment): void {
    this.parts = [partOf(segment)]
    this.last = null
  }

  /**
   * Takes what changed since the large segment was made.
   *
   * @param segment All changed sounds as they are now. @param ids Of all that changed, those that are gone among them.
   */
  change(segment: Segment, ids: readonly number[]): void {
    const [base] = this.parts
    if (!base) return
    for (const id of ids) {
      const at = positionOf(base.segment.columns.ids, id)
      if (at >= 0) base.dead[at] = 1
    }
    this.parts = segment.count > 0 ? [base, partOf(segment)] : [base]
    this.last = null
  }

  /** Takes another vocabulary. */
  learn(vocabulary: Vocabulary): void {
    this.vocabulary = vocabulary
    this.last = null
  }

  get count(): number {
    return this.parts.reduce((sum, { segment, dead }) => sum + segment.count - sumOf(dead), 0)
  }

  /** Bytes that the typed arrays of the index take. */
  get sizeBytes(): number {
    const arrays = this.parts.flatMap(({ segment }) => [
      ...Object.values(segment.columns),
      segment.starts,
      segment.postings,
      segment.fields,
      segment.tokens,
      segment.tokenStarts,
      ...(segment.vectors ? [segment.vectors] : []),
    ])
    return arrays.reduce((sum: number, array: { byteLength: number }) => sum + array.byteLength, 0)
  }

  get wordCount(): number {
    return this.parts.reduce((sum, { segment }) => sum + segment.words.length, 0)
  }

  /** Every offer that a sound is under, with the first such sound. */
  offers(): { readonly offer: string; readonly id: number }[] {
    const first = new Map<number, number>()
    for (const { segment, dead } of this.parts) {
      const { ids, offer } = segment.columns
      for (let sound = 0; sound < segment.count; sound++) {
        const one = offer[sound] as number
        if (dead[sound] === 0 && !first.has(one)) first.set(one, ids[sound] as number)
      }
    }
    return [...first].map(([offer, id]) => ({ offer: this.names.offers.texts[offer] as string, id }))
  }

  /** Vector of a sound, or null while it has none. */
  vectorOf(id: number): Float32Array | null {
    for (const { segment, dead } of [...this.parts].reverse()) {
      const at = positionOf(segment.columns.ids, id)
      if (at < 0 || dead[at] === 1 || !segment.vectors) continue
      const vector = segment.vectors.slice(at * segment.vectorLength, (at + 1) * segment.vectorLength)
      return Number.isNaN(vector[0]) ? null : vector
    }
    return null
  }

  /** One page of what answers to a query. */
  find(request: FindRequest): FindResult {
    const { answers, corrections } = this.answers(request)
    const { filters, parts } = request.query
    const sort = request.sort === 'best' && parts.every(({ not }) => not) && !request.like ? 'name' : request.sort
    const wanted = request.offset + request.limit
    const lists = answers.map((answer) => orderedIds(answer, sort, wanted))
    const ids = merged(lists, wanted).slice(request.offset)
    return {
      ids: ids.map(({ id }) => id),
      likeness: request.like ? ids.map(({ id }) => this.likenessOf(id, request.like as Float32Array)) : [],
      total: answers.reduce((sum, answer) => sum + countOf(answer), 0),
      catalogueTotal: this.count,
      corrections,
      hides: hiddenBy(answers, filters),
    }
  }

  private likenessOf(id: number, like: Float32Array): number {
    const vector = this.vectorOf(id)
    return vector ? dot(vector, 0, like) : 0
  }

  /** Counts for the values of some kinds of conditions. */
  counts(request: Omit<FindRequest, 'sort' | 'limit' | 'offset'>, kinds: readonly CountKind[]): FindCounts {
    const { answers } = this.answers(request)
    const counts: Record<string, unknown> = {}
    for (const kind of kinds) {
      const at = request.query.filters.findIndex((filter) => filter.kind === kind) + 1
      counts[kind] = this.countsOf(kind, answers, at)
    }
    return counts as FindCounts
  }

  /** @param own Number of the condition that does not count, since it is the one whose values are counted; 0 for none. */
  private countsOf(kind: CountKind, answers: readonly Answer[], own: number): unknown {
    const counter = COUNTERS[kind]
    const sums: number[] = []
    for (const answer of answers) {
      const value = counter.value(answer.part)
      if (!value) continue
      const { keys, misses } = answer
      const tally = new Uint32Array(counter.size(this.names))
      for (let sound = 0; sound < keys.length; sound++) {
        if (keys[sound] === 0) continue
        const missed = misses ? (misses[sound] as number) : 0
        if (missed !== 0 && missed !== own) continue
        const index = value(sound)
        if (index >= 0) tally[index] = (tally[index] as number) + 1
      }
      for (const [index, count] of tally.entries()) sums[index] = (sums[index] ?? 0) + count
    }
    return counter.wire(sums, this.names)
  }

  private answers(request: Pick<FindRequest, 'query' | 'like' | 'except' | 'fits'>) {
    const key = JSON.stringify([
      request.query.parts,
      request.query.filters,
      request.except,
      request.fits?.key ?? '',
      request.like ? [...request.like.subarray(0, 8)] : 0,
    ])
    if (this.last?.key === key) return this.last
    const meant = this.meantWords(request.query.parts)
    const answers = this.parts.map((part) => this.answerOf(part, request, meant))
    const corrections = [...meant].map(([typed, shown]) => ({ typed, shown }))
    this.last = { key, answers, corrections }
    return this.last
  }

  /** For words that stand nowhere, not even in the vocabulary: the nearest that do. */
  private meantWords(parts: readonly QueryPart[]): Map<string, string> {
    const meant = new Map<string, string>()
    for (const part of parts) {
      const [word] = part.words
      if (part.not || part.quoted || part.words.length > 1 || word === undefined) continue
      if (this.parts.some(({ index }) => isKnown(index, this.vocabulary, word))) continue
      const indices = this.parts.map(({ index }) => index)
      const single = [...this.vocabulary.expressions].filter((one) => !one.includes(' '))
      const nearest = nearestWord(word, indices, single)
      if (nearest !== null) meant.set(word, nearest)
    }
    return meant
  }

  private answerOf(
    part: Part,
    request: Pick<FindRequest, 'query' | 'like' | 'except' | 'fits'>,
    meant: Map<string, string>,
  ): Answer {
    const { segment } = part
    const keys = this.textKeys(part, request.query.parts, meant)
    if (request.like) weighLikeness(segment, keys, request.like)
    if (request.except !== null) {
      const at = positionOf(segment.columns.ids, request.except)
      if (at >= 0) keys[at] = 0
    }
    return { part, keys, misses: this.missesOf(part, keys, request) }
  }

  private textKeys(part: Part, parts: readonly QueryPart[], meant: Map<string, string>): Uint16Array {
    const { segment, index, dead } = part
    const { bonus, popularity } = segment.columns
    const wanted = parts.filter(({ not }) => !not)
    const lists = wanted.map((one, at) => {
      const points = this.scratch(at, segment.count)
      partPoints(segment, index, this.vocabulary, one, points, meant.get(one.words[0] ?? '') ?? null)
      return points
    })
    this.addExpressions(part, wanted, lists)
    const excluded = dead.slice()
    for (const one of parts) if (one.not) markExcluded(segment, index, one, excluded)
    const keys = new Uint16Array(segment.count)
    for (let sound = 0; sound < keys.length; sound++) {
      if (excluded[sound] === 1) continue
      let sum = 1
      for (let at = 0; at < lists.length; at++) {
        const points = (lists[at] as Uint8Array)[sound] as number
        if (points === 0) {
          sum = 0
          break
        }
        sum += points
      }
      if (sum === 0) continue
      const level = Math.min(POPULARITY_LEVELS - 1, Math.floor((popularity[sound] as number) * POPULARITY_LEVELS))
      keys[sound] = (sum + (bonus[sound] as number)) * POPULARITY_LEVELS + level
    }
    return keys
  }

  /** Neighbouring words that are one expression of the vocabulary ("build up") answer to what it means too. */
  private addExpressions({ segment, index }: Part, parts: readonly QueryPart[], lists: readonly Uint8Array[]): void {
    const words = parts.map((part) => (part.quoted || part.words.length > 1 ? null : (part.words[0] as string)))
    for (let length = 2; length <= Math.min(this.vocabulary.longest, words.length); length++) {
      for (let at = 0; at + length <= words.length; at++) {
        const run = words.slice(at, at + length)
        if (run.includes(null) || !this.vocabulary.related(run.join(' '))) continue
        for (const points of lists.slice(at, at + length))
          expressionPoints(segment, index, this.vocabulary, run.join(' '), points)
      }
    }
  }

  private missesOf(
    part: Part,
    keys: Uint16Array,
    { query, fits }: Pick<FindRequest, 'query' | 'fits'>,
  ): Uint8Array | null {
    if (query.filters.length === 0) return null
    const column = query.filters.some(({ kind }) => kind === 'fit') ? this.fitsOf(part, fits) : null
    const conditions = query.filters.map((filter): Condition => conditionOf(filter, part.segment, this.names, column))
    const misses = new Uint8Array(keys.length)
    for (let sound = 0; sound < keys.length; sound++) {
      if (keys[sound] === 0) continue
      let missed = 0
      for (let at = 0; at < conditions.length; at++) {
        if (!(conditions[at] as Condition)(sound)) missed = missed === 0 ? at + 1 : SEVERAL
      }
      misses[sound] = missed
    }
    if (fits) this.fitsOf(part, fits)
    return misses
  }

  private fitsOf(part: Part, table: FitTable | null): Uint8Array | null {
    if (!table) return null
    if (part.fits?.key !== table.key) part.fits = { key: table.key, column: fitColumn(part.segment, this.names, table) }
    return part.fits.column
  }

  /** Makes the fits ready to be counted. */
  weigh(table: FitTable | null): void {
    for (const part of this.parts) {
      part.fits = table === null ? null : part.fits
      this.fitsOf(part, table)
    }
  }

  /** A list that is used again from query to query. */
  private scratch(at: number, length: number): Uint8Array {
    const known = this.points[at]
    if (known && known.length >= length) return known.length === length ? known : known.subarray(0, length)
    const fresh = new Uint8Array(length)
    this.points[at] = fresh
    return fresh
  }
}

function partOf(segment: Segment): Part {
  return { segment, index: new WordIndex(segment), dead: new Uint8Array(segment.count), orders: new Map(), fits: null }
}

function sumOf(values: Uint8Array): number {
  let sum = 0
  for (const value of values) sum += value
  return sum
}

function countOf({ keys, misses }: Answer): number {
  let count = 0
  for (let sound = 0; sound < keys.length; sound++)
    if (keys[sound] !== 0 && (misses === null || misses[sound] === 0)) count++
  return count
}

function hiddenBy(answers: readonly Answer[], filters: readonly Filter[]): FindResult['hides'] {
  if (filters.length === 0) return []
  const alone = new Array<number>(filters.length + 1).fill(0)
  let several = 0
  for (const { keys, misses } of answers) {
    for (let sound = 0; sound < keys.length; sound++) {
      if (keys[sound] === 0) continue
      const missed = misses?.[sound] ?? 0
      if (missed === SEVERAL) several++
      else alone[missed] = (alone[missed] as number) + 1
    }
  }
  return filters.map(({ kind }, at) => ({
    kind,
    hidden: several === 0 ? (alone[at + 1] as number) : (alone[at + 1] as number) + several,
    hiddenByItAlone: alone[at + 1] as number,
  }))
}

/** Sounds without a vector cannot be compared; the others are put in the order of how alike they are. */
function weighLikeness({ vectors, vectorLength, count }: Segment, keys: Uint16Array, like: Float32Array): void {
  if (!vectors || vectorLength !== like.length) {
    keys.fill(0)
    return
  }
  for (let sound = 0; sound < count; sound++) {
    if (keys[sound] === 0) continue
    const likeness = dot(vectors, sound * vectorLength, like)
    // A likeness of -1 to 1 as 1 to 65,535.
    keys[sound] = Number.isNaN(likeness) ? 0 : 1 + Math.round(((Math.max(-1, Math.min(1, likeness)) + 1) / 2) * 65_534)
  }
}

function dot(values: Float32Array, from: number, other: Float32Array): number {
  let sum = 0
  for (let at = 0; at < other.length; at++) sum += (values[from + at] as number) * (other[at] as number)
  return sum
}
