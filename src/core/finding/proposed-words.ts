import { wordsOf } from './words'

/** A sound that sounds like another one, with what it is called. */
export interface LabelledNeighbour {
  /** How alike it is, 0 to 1. */
  readonly fraction: number
  readonly title: string
  readonly words: readonly string[]
  readonly category: string
}

/** A word that a sound may be described by. */
export interface ProposedWord {
  readonly word: string
  /** Share of the sounds alike, each counted by how alike it is, that have it; 0 to 1. */
  readonly share: number
}

export interface WordProposal {
  readonly words: readonly ProposedWord[]
  readonly category: { readonly name: string; readonly share: number } | null
  /** Sounds alike that it rests on. */
  readonly neighbours: number
}

/** Less alike than this is another kind of sound. */
const MIN_FRACTION = 0.3
const NEIGHBOURS_MAX = 12
/** One sound alone may be called anything. */
const MIN_NEIGHBOURS = 2
const MIN_SHARE = 0.3
const MIN_CATEGORY_SHARE = 0.4
const WORDS_MAX = 8
const MIN_LENGTH = 3
/** Words that hold titles together and say nothing of a sound. */
const EMPTY = new Set([
  'and',
  'the',
  'with',
  'without',
  'from',
  'into',
  'near',
  'for',
  'off',
  'out',
  'over',
  'under',
  'onto',
])

/**
 * Words for a sound that has none, by what the sounds nearest to it are called (nearest neighbours, each weighed by the square of how alike it is).
 *
 * @param neighbours The most alike first. @param known Words that it has already.
 */
export function proposedWords(neighbours: readonly LabelledNeighbour[], known: readonly string[]): WordProposal {
  const near = neighbours.filter(({ fraction }) => fraction >= MIN_FRACTION).slice(0, NEIGHBOURS_MAX)
  const total = near.reduce((sum, { fraction }) => sum + fraction ** 2, 0)
  if (near.length < MIN_NEIGHBOURS) return { words: [], category: null, neighbours: near.length }
  const has = new Set(known.flatMap((text) => wordsOf(text)))
  const words = shares(near, total, ({ title, words: own }) => [title, ...own].flatMap((text) => wordsOf(text)))
    .filter(
      ({ word, share, count }) =>
        word.length >= MIN_LENGTH &&
        !/^\d+$/.test(word) &&
        !EMPTY.has(word) &&
        share >= MIN_SHARE &&
        count >= MIN_NEIGHBOURS &&
        !has.has(word),
    )
    .slice(0, WORDS_MAX)
  const [category] = shares(near, total, (one) => (one.category === '' ? [] : [one.category]))
  return {
    words: words.map(({ word, share }) => ({ word, share })),
    category:
      category && category.share >= MIN_CATEGORY_SHARE && category.count >= MIN_NEIGHBOURS
        ? { name: category.word, share: category.share }
        : null,
    neighbours: near.length,
  }
}

/** How much of the neighbours has each label, the most first. */
function shares(
  near: readonly LabelledNeighbour[],
  total: number,
  labelsOf: (one: LabelledNeighbour) => readonly string[],
): { word: string; share: number; count: number }[] {
  const sums = new Map<string, { weight: number; count: number }>()
  for (const one of near)
    for (const label of new Set(labelsOf(one))) {
      const sum = sums.get(label) ?? { weight: 0, count: 0 }
      sums.set(label, { weight: sum.weight + one.fraction ** 2, count: sum.count + 1 })
    }
  return [...sums]
    .map(([word, { weight, count }]) => ({ word, share: weight / total, count }))
    .sort((a, b) => b.share - a.share || (a.word < b.word ? -1 : 1))
}
