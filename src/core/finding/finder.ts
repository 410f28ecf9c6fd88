import { type Answer, dot, gatherHits, type Part, partOf, totalOf, weighLikeness } from './answer'
import { type Condition, conditionOf, type FitTable, fitColumn, positionOf } from './conditions'
import { COUNTERS, type CountKind, type FindCounts, pairCounts, tallyUp } from './counts'
import type { FilterKind } from './filters'
import { halfMet } from './half-met'
import { excludedBy, hiddenBy, missesOf } from './misses'
import { merged, orderedIds } from './order'
import { isKnown, partPoints } from './points'
import { MAX_PARTS, type Query, type QueryPart } from './query'
import { Names, type Segment } from './segment'
import type { Sort } from './sorts'
import type { Vocabulary } from './vocabulary'
import { nearestWord } from './word-index'
import { expressionsIn, wordsStandIn } from './words-in-texts'

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
  /** In how many videos each was heard. */
  readonly usedCounts: readonly number[]
  /** Dot product of its vector and the one that is compared with; empty where nothing is. */
  readonly likeness: readonly number[]
  readonly total: number
  readonly catalogueTotal: number
  /** Words that stand nowhere, and what was taken for them. */
  readonly corrections: readonly { readonly typed: string; readonly shown: string }[]
  /** How many sounds that answer to the words each condition hides, and how many it alone hides. */
  readonly hides: readonly { readonly kind: FilterKind; readonly hidden: number; readonly hiddenByItAlone: number }[]
}

/** Sounds that answer to some of the words, and not to the rest. */
export interface WordsMet {
  /** The words as they were looked for. */
  readonly met: readonly string[]
  /** How many words were asked for. */
  readonly of: number
  readonly total: number
  /** The best of them. */
  readonly ids: readonly number[]
}

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
      if (at < 0 || base.dead[at] === 1) continue
      base.dead[at] = 1
      base.deadCount++
    }
    this.parts = segment.count > 0 ? [base, partOf(segment)] : [base]
    this.last = null
  }

  /** Takes another vocabulary. */
  learn(vocabulary: Vocabulary): void {
    this.vocabulary = vocabulary
    for (const { points } of this.parts) points.clear()
    this.last = null
  }

  get count(): number {
    return this.parts.reduce((sum, { segment, deadCount }) => sum + segment.count - deadCount, 0)
  }

  /** Bytes that the typed arrays of the index take. */
  get sizeBytes(): number {
    const arrays = this.parts.flatMap(({ segment }) => [
      ...Object.values(segment.columns),
      segment.starts,
      segment.postings,
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
      usedCounts: ids.map(({ usedCount }) => usedCount),
      likeness: request.like ? ids.map(({ id }) => this.likenessOf(id, request.like as Float32Array)) : [],
      total: answers.reduce((sum, answer) => sum + answer.total, 0),
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
    if (kinds.includes('fit')) for (const part of this.parts) this.fitsOf(part, request.fits)
    const counts: Record<string, unknown> = {}
    const both = kinds.includes('category') && kinds.includes('source')
    const unfiltered = !request.query.filters.some(({ kind }) => kind === 'category' || kind === 'source')
    if (both && unfiltered) Object.assign(counts, pairCounts(answers, this.names))
    for (const kind of kinds) {
      if (kind in counts) continue
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
      const tally = new Uint32Array(counter.size(this.names) + 1)
      tallyUp(tally, value, answer, own)
      // What has no value was tallied in the first place.
      for (const [index, count] of tally.subarray(1).entries()) sums[index] = (sums[index] ?? 0) + count
    }
    return counter.wire(sums, this.names)
  }

  /** Sounds that answer to most of the words but not to all of them, where there are several words. */
  halfMet({ query, fits }: Pick<FindRequest, 'query' | 'fits'>): WordsMet[] {
    const wanted = query.parts.filter(({ not }) => !not)
    if (wanted.length < 2) return []
    const meant = this.meantWords(query.parts)
    const groups = halfMet(
      this.parts.map((part) => ({
        part,
        lists: this.listsFor(part, wanted, meant),
        excluded: excludedBy(part, query.parts),
        conditions: this.conditionsOf(part, { query, fits }, meant),
      })),
    )
    const shown = wanted.map(({ words }) => meant.get(words.join(' ')) ?? words.join(' '))
    return groups.map(({ met, ...rest }) => ({ ...rest, met: met.map((at) => shown[at] as string), of: shown.length }))
  }

  private answers(request: Pick<FindRequest, 'query' | 'like' | 'except' | 'fits'>) {
    const key = JSON.stringify([
      request.query.parts,
      request.query.filters,
      request.except,
      request.fits?.key ?? '',
      request.like ? [...request.like] : 0,
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
    let count = this.gather(part, request.query.parts, meant, request.except)
    if (request.like) count = weighLikeness(part, count, request.like)
    const hits = part.hits.subarray(0, count)
    const { misses, hidden } = missesOf(hits, this.conditionsOf(part, request, meant))
    return { part, hits, keys: part.keys.subarray(0, count), misses, hidden, total: totalOf(count, misses) }
  }

  private gather(part: Part, parts: readonly QueryPart[], meant: Map<string, string>, except: number | null): number {
    const wanted = parts.filter(({ not }) => !not)
    const lists = this.listsFor(part, wanted, meant)
    const at = except === null ? -1 : positionOf(part.segment.columns.ids, except)
    if (wanted.length === parts.length && at < 0) return gatherHits(part, part.deadCount > 0 ? part.dead : null, lists)
    const excluded = excludedBy(part, parts)
    if (at >= 0) excluded[at] = 1
    return gatherHits(part, excluded, lists)
  }

  /** For each part of a query the points of every sound. */
  private listsFor(part: Part, wanted: readonly QueryPart[], meant: Map<string, string>): Uint8Array[] {
    const lists = wanted.map((one) => this.pointsFor(part, one, meant.get(one.words[0] ?? '') ?? null))
    for (const { from, to, answers } of expressionsIn(part, wanted, this.vocabulary))
      for (let step = from; step < to; step++) {
        // The list is kept for the word alone, without what it means together with its neighbours.
        const list = (lists[step] as Uint8Array).slice()
        answers.give(list)
        lists[step] = list
      }
    return lists
  }

  private conditionsOf(
    part: Part,
    { query, fits }: Pick<FindRequest, 'query' | 'fits'>,
    meant: Map<string, string>,
  ): Condition[] {
    const { filters } = query
    const column = filters.some(({ kind }) => kind === 'fit') ? this.fitsOf(part, fits) : null
    return filters.map((filter) =>
      filter.kind === 'words-in'
        ? wordsStandIn(part, query.parts, { vocabulary: this.vocabulary, meant, texts: filter.texts })
        : conditionOf(filter, part.segment, this.names, column),
    )
  }

  private fitsOf(part: Part, table: FitTable | null): Uint8Array | null {
    if (!table) {
      part.fits = null
      return null
    }
    if (part.fits?.key !== table.key) part.fits = { key: table.key, column: fitColumn(part.segment, this.names, table) }
    return part.fits.column
  }

  /** Points for one part of a query. Of the last few they are kept: while someone types, all words but the last stay the same. */
  private pointsFor(part: Part, wanted: QueryPart, meant: string | null): Uint8Array {
    const { segment, index, points } = part
    const key = JSON.stringify([wanted.words, wanted.quoted, meant])
    const known = points.get(key)
    if (known) {
      points.delete(key)
      points.set(key, known)
      return known
    }
    // A search begins with one letter, which answers to very many words: those lists stay longest.
    const kept = [...points]
    const oldest = kept.find(([one]) => one.length > LETTER_KEY_LENGTH) ?? kept[0]
    const full = points.size >= POINTS_KEPT && oldest !== undefined
    const list = full ? oldest[1] : new Uint8Array(segment.count)
    if (full) points.delete(oldest[0])
    points.set(key, list)
    partPoints(segment, index, this.vocabulary, wanted, list, meant)
    return list
  }
}

/** Length of the key of a single letter. */
const LETTER_KEY_LENGTH = JSON.stringify([['a'], false, null]).length

/** Lists of points that are kept; more than a query has parts, or one would take the place of another of the same query. */
const POINTS_KEPT = 2 * MAX_PARTS + 26
