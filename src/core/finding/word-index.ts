import type { Segment } from './segment'
import { stemOf } from './words'

/** First position in a sorted list whose text is not below the one given. */
export function lowerBound(words: readonly string[], text: string): number {
  let low = 0
  let high = words.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if ((words[middle] as string) < text) low = middle + 1
    else high = middle
  }
  return low
}

/** What the words of a segment can be looked up by beside their order: stems, and groups of three letters. */
export class WordIndex {
  private readonly byStem = new Map<string, number[]>()
  private readonly byTrigram = new Map<string, number[]>()

  constructor(readonly segment: Pick<Segment, 'words' | 'starts'>) {
    for (const [index, word] of segment.words.entries()) {
      push(this.byStem, stemOf(word), index)
      if (!/\d/.test(word)) for (const trigram of trigramsOf(word)) push(this.byTrigram, trigram, index)
    }
  }

  /** @returns -1 when no sound has the word. */
  exact(word: string): number {
    const at = lowerBound(this.segment.words, word)
    return this.segment.words[at] === word ? at : -1
  }

  /** Words that begin with some letters, as a span: from, up to but not including. */
  prefix(letters: string): readonly [number, number] {
    return [lowerBound(this.segment.words, letters), lowerBound(this.segment.words, `${letters}\uffff`)]
  }

  stems(stem: string): readonly number[] {
    return this.byStem.get(stem) ?? []
  }

  /** In how many sounds a word stands. */
  frequency(index: number): number {
    return (this.segment.starts[index + 1] as number) - (this.segment.starts[index] as number)
  }

  /** Words that share many groups of three letters with one that is not there. */
  similar(word: string): { readonly word: string; readonly similarity: number; readonly frequency: number }[] {
    const own = trigramsOf(word)
    const shared = new Map<number, number>()
    for (const trigram of own) {
      for (const index of this.byTrigram.get(trigram) ?? []) shared.set(index, (shared.get(index) ?? 0) + 1)
    }
    return [...shared].flatMap(([index, count]) => {
      const other = this.segment.words[index] as string
      const similarity = (2 * count) / (own.length + trigramsOf(other).length)
      return similarity < SIMILARITY_MIN ? [] : [{ word: other, similarity, frequency: this.frequency(index) }]
    })
  }
}

/** Share of trigrams (Dice's coefficient) below which two words are strangers. */
const SIMILARITY_MIN = 0.35

function push<K>(map: Map<K, number[]>, key: K, value: number): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

/** Groups of three letters of a word, with two blanks before it and one behind. Different ones only. */
export function trigramsOf(word: string): string[] {
  const padded = `  ${word} `
  const all = new Set<string>()
  for (let at = 0; at + 3 <= padded.length; at++) all.add(padded.slice(at, at + 3))
  return [...all]
}

/** Slips of the finger between two words: letters added, lost, changed or swapped. Source: Damerau 1964, optimal string alignment. */
export function damerauLevenshteinDistance(a: string, b: string): number {
  let beforeLast: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, at) => at)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const change = (last[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1)
      let least = Math.min(change, (last[j] as number) + 1, (row[j - 1] as number) + 1)
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        least = Math.min(least, (beforeLast[j - 2] as number) + 1)
      row.push(least)
    }
    beforeLast = last
    last = row
  }
  return last[b.length] as number
}

/** Shorter words than this are never taken for a slip. */
const SLIP_LETTERS_MIN = 3

function slipsAllowed(length: number): number {
  return length <= 4 ? 1 : length <= 7 ? 2 : 3
}

/**
 * The word that was probably meant by one that stands nowhere: few slips away, then known to the vocabulary, then most alike, then the
 * most frequent.
 *
 * @param known More words that may be meant, such as those of the vocabulary.
 * @returns Null when nothing is near.
 */
export function nearestWord(word: string, indices: readonly WordIndex[], known: Iterable<string> = []): string | null {
  if (word.length < SLIP_LETTERS_MIN || /\d/.test(word)) return null
  const candidates = new Map<string, { slips: number; known: number; similarity: number; frequency: number }>()
  const consider = (other: string, similarity: number, frequency: number, isKnown = 0): void => {
    const slips = damerauLevenshteinDistance(word, other)
    if (slips > slipsAllowed(word.length)) return
    const before = candidates.get(other)
    candidates.set(other, {
      slips,
      similarity,
      known: Math.max(isKnown, before?.known ?? 0),
      frequency: frequency + (before?.frequency ?? 0),
    })
  }
  for (const index of indices) for (const one of index.similar(word)) consider(one.word, one.similarity, one.frequency)
  const own = new Set(trigramsOf(word))
  for (const other of known) {
    const trigrams = trigramsOf(other)
    const similarity = (2 * trigrams.filter((one) => own.has(one)).length) / (own.size + trigrams.length)
    if (similarity >= SIMILARITY_MIN) consider(other, similarity, 0, 1)
  }
  const [best] = [...candidates].sort(
    ([wordA, a], [wordB, b]) =>
      a.slips - b.slips ||
      b.known - a.known ||
      b.similarity - a.similarity ||
      b.frequency - a.frequency ||
      (wordA < wordB ? -1 : 1),
  )
  return best?.[0] ?? null
}
