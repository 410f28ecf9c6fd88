import { type Filter, findFilter } from './filters'
import { type OfferedCondition, offeredConditions, type PlacedWord } from './plain-conditions'
import { wordsOf } from './words'

/** A word, or words that have to stand one after the other. */
export interface QueryPart {
  readonly words: readonly string[]
  /** Whether it stood in quotes: taken exactly, without stems and synonyms. */
  readonly quoted: boolean
  /** Whether it must not be there. */
  readonly not: boolean
}

/** What a person looks for. */
export interface Query {
  readonly parts: readonly QueryPart[]
  readonly filters: readonly Filter[]
  /** Conditions in plain words: they do not count before they are taken. */
  readonly offers: readonly OfferedCondition[]
  /** Text between brackets that says no condition. */
  readonly unknown: readonly string[]
  /** How many words at the end are too many, and do not count. */
  readonly leftOut: number
}

/** More words than this in one query are ignored. */
export const MAX_PARTS = 12

/** A bracket, a quotation or a word, each perhaps with a minus before it; a quotation may still be open at the end. */
const TOKEN = /\[([^\][]*)\]|(?<=^|\s)(-?)"([^"]*)(?:"|$)|(-?)([^\s[\]"]+)/g

/**
 * Reads what was typed: words, "words in a row", -words that must not be there, and conditions in square brackets.
 *
 * Any text is a query; what cannot be understood is told in `unknown`. A word that holds a hyphen ("build-up") is its words in a row.
 * A condition in plain words ("under 2s") is offered and does not count yet; its words are not looked for, unless they may stand in a title.
 */
export function parsedQuery(text: string): Query {
  const parts: QueryPart[] = []
  const filters: Filter[] = []
  const unknown: string[] = []
  const offers = offersIn(text)
  for (const { index, 1: bracket, 2: minus, 3: quoted, 4: dash, 5: word } of text.matchAll(TOKEN)) {
    if (offers.some(({ start, end, isSearchedToo }) => index >= start && index < end && !isSearchedToo)) continue
    if (bracket !== undefined) {
      const filter = findFilter(bracket)
      if (filter) filters.push(filter)
      else if (bracket.trim() !== '') unknown.push(bracket.trim())
      continue
    }
    const words = wordsOf(quoted ?? word ?? '')
    if (words.length === 0) continue
    const not = (minus ?? dash) === '-'
    if (quoted !== undefined) parts.push({ words, quoted: true, not })
    // "wind-up" is looked for as two words that both have to be there; excluding it excludes them in a row.
    else if (not) parts.push({ words, quoted: words.length > 1, not })
    else for (const one of words) parts.push({ words: [one], quoted: false, not })
  }
  const leftOut = Math.max(0, parts.length - MAX_PARTS)
  return { parts: parts.slice(0, MAX_PARTS), filters: lastOfEachKind(filters), offers, unknown, leftOut }
}

/** What stands in brackets and quotes, or must not be there, is no plain word: runs of plain words end there. */
function offersIn(text: string): OfferedCondition[] {
  const runs: PlacedWord[][] = [[]]
  let endsAt = 0
  for (const { index, 0: whole, 4: dash, 5: word } of text.matchAll(TOKEN)) {
    // A bracket that is still open ends a run as well.
    if (word === undefined || dash === '-' || text.slice(endsAt, index).trim() !== '') runs.push([])
    if (word !== undefined && dash !== '-') runs.at(-1)?.push({ text: word, start: index })
    endsAt = index + whole.length
  }
  // As many as words count: a text of a megabyte is read in a moment.
  return runs.flatMap(offeredConditions).slice(0, MAX_PARTS)
}

/** A condition takes the place of the one of its kind; null takes it away. */
export function withFilter(filters: readonly Filter[], kind: Filter['kind'], filter: Filter | null): Filter[] {
  const rest = filters.filter((one) => one.kind !== kind)
  return filter ? [...rest, filter] : rest
}

function lastOfEachKind(filters: readonly Filter[]): Filter[] {
  return filters.filter((filter, at) => !filters.slice(at + 1).some(({ kind }) => kind === filter.kind))
}
