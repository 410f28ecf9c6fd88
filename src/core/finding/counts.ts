import type { Fit } from '../rights'
import type { Answer, Part } from './answer'
import { fitAt } from './conditions'
import { COST_KINDS, type CostKind, SOUND_KINDS, type SoundKind } from './filters'
import { type Names, NO, type Segment, YES } from './segment'

export interface Counted<T> {
  readonly value: T
  readonly count: number
}

export const COUNT_KINDS = [
  'category',
  'source',
  'type',
  'cost',
  'licence',
  'credit',
  'fit',
  'here',
  'kept',
  'used',
  'channels',
  'loops',
  'mood',
  'vocals',
  'length',
  'tempo',
] as const
export type CountKind = (typeof COUNT_KINDS)[number]

/** For each kind of condition, how many sounds there would be for each of its values, all other conditions being met. */
export interface FindCounts {
  readonly category?: readonly Counted<{ readonly group: string; readonly name: string }>[]
  readonly source?: readonly Counted<string>[]
  readonly licence?: readonly Counted<string>[]
  readonly mood?: readonly Counted<string>[]
  readonly type?: readonly Counted<SoundKind>[]
  readonly cost?: readonly Counted<CostKind>[]
  readonly fit?: readonly Counted<Fit>[]
  readonly credit?: readonly Counted<boolean>[]
  readonly here?: readonly Counted<boolean>[]
  readonly kept?: readonly Counted<boolean>[]
  readonly used?: readonly Counted<boolean>[]
  readonly channels?: readonly Counted<'mono' | 'stereo'>[]
  readonly loops?: readonly Counted<boolean>[]
  readonly vocals?: readonly Counted<boolean>[]
  /** One for each bin of `LENGTH_EDGES_S`. */
  readonly length?: readonly number[]
  /** One for each bin of `TEMPO_EDGES_BPM`. */
  readonly tempo?: readonly number[]
}

/** Lower edges of the bins in which lengths are counted, s; the last has no upper edge. */
export const LENGTH_EDGES_S: readonly number[] = [
  0, 0.1, 0.2, 0.3, 0.5, 0.75, 1, 1.5, 2, 3, 4, 5, 7, 10, 15, 20, 30, 45, 60, 120, 300,
]
/** Lower edges of the bins in which tempos are counted, beats a minute. */
export const TEMPO_EDGES_BPM: readonly number[] = [0, 60, 70, 80, 90, 100, 110, 120, 130, 140, 150, 170]

/** A column whose values, shifted, are places in a tally. */
interface Valued {
  readonly column: Uint8Array | Uint16Array | Uint32Array
  readonly shift: number
  /** Value that stands for none. */
  readonly none?: number
}

/** Counts the sounds of an answer by their values. @param own Number of the condition that does not count, 0 for none. */
export function tallyUp(tally: Uint32Array, valued: Valued, { hits, misses }: Answer, own: number): void {
  const none = valued.none ?? -1
  const { column, shift } = valued
  // Two tallies take turns: adding twice to one place in a row would have to wait for itself.
  const other = new Uint32Array(tally.length)
  for (let at = 0; at < hits.length; at++) {
    if (misses !== null) {
      const missed = misses[at] as number
      if (missed !== 0 && missed !== own) continue
    }
    const value = column[hits[at] as number] as number
    const place = value === none ? 0 : value + shift
    if ((at & 1) === 0) tally[place] = (tally[place] as number) + 1
    else other[place] = (other[place] as number) + 1
  }
  for (const [place, count] of other.entries()) tally[place] = (tally[place] as number) + count
}

/** How the values of one kind are counted. */
export interface Counter {
  size(names: Names): number
  /** Values of all sounds, and what is added to make them places from 1 on, 0 standing for none; null where nothing is known. */
  value(part: Part): Valued | null
  wire(tally: readonly number[], names: Names): unknown
}

export const COUNTERS: Readonly<Record<CountKind, Counter>> = {
  category: {
    size: ({ categories }) => categories.texts.length,
    value: column(({ category }) => category),
    wire: (tally, { categories }) =>
      present(tally, categories.texts).map(({ value, count }) => {
        const [group = '', name = ''] = value.split('|')
        return { value: { group, name }, count }
      }),
  },
  source: {
    size: ({ sources }) => sources.texts.length,
    value: column(({ source }) => source),
    wire: (tally, { sources }) => present(tally, sources.texts),
  },
  licence: {
    size: ({ licences }) => licences.texts.length,
    value: column(({ licence }) => licence),
    wire: (tally, { licences }) => present(tally, licences.texts),
  },
  mood: {
    size: ({ moods }) => moods.texts.length,
    value: column(({ mood }) => mood, 0),
    wire: (tally, { moods }) => present(tally, moods.texts),
  },
  type: {
    size: () => SOUND_KINDS.length,
    value: column(({ kind }) => kind),
    wire: (tally) => present(tally, SOUND_KINDS),
  },
  cost: {
    size: () => COST_KINDS.length,
    value: column(({ cost }) => cost),
    wire: (tally) => present(tally, COST_KINDS),
  },
  fit: {
    size: () => 4,
    value: ({ fits }) => fits && { column: fits.column, shift: 1, none: 255 },
    wire: (tally) => tally.flatMap((count, index) => (count > 0 ? [{ value: fitAt(index), count }] : [])),
  },
  credit: yesOrNo(({ creditOwed }) => creditOwed),
  here: yesOrNo(({ here }) => here),
  kept: yesOrNo(({ kept }) => kept),
  used: {
    ...yesOrNo(({ kept }) => kept),
    value: placed(
      ({ usedCount }) => usedCount,
      (count) => 1 + Math.min(1, count),
    ),
  },
  channels: {
    size: () => 2,
    value: placed(
      ({ channels }) => channels,
      (count) => Math.min(2, count),
    ),
    wire: (tally) => present(tally, ['mono', 'stereo']),
  },
  loops: known(({ loops }) => loops),
  vocals: known(({ vocals }) => vocals),
  length: binned(LENGTH_EDGES_S, ({ durationS }) => durationS),
  tempo: binned(TEMPO_EDGES_BPM, ({ tempoBpm }) => tempoBpm),
}

/** Counts categories and sources in one go through the answers, where no condition is on either: they are asked for at every letter. */
export function pairCounts(answers: readonly Answer[], names: Names): Pick<FindCounts, 'category' | 'source'> {
  const categories = new Array<number>(names.categories.texts.length).fill(0)
  const sources = new Array<number>(names.sources.texts.length).fill(0)
  const width = Math.max(1, names.sources.texts.length)
  for (const answer of answers) {
    const tally = new Uint32Array(names.categories.texts.length * width + 1)
    tallyUp(tally, { column: pairsOf(answer.part, width), shift: 1 }, answer, 0)
    for (const [place, count] of tally.entries()) {
      if (count === 0) continue
      const category = Math.floor((place - 1) / width)
      const source = (place - 1) % width
      categories[category] = (categories[category] as number) + count
      sources[source] = (sources[source] as number) + count
    }
  }
  return {
    category: COUNTERS.category.wire(categories, names) as FindCounts['category'],
    source: COUNTERS.source.wire(sources, names) as FindCounts['source'],
  } as Pick<FindCounts, 'category' | 'source'>
}

/** @param width Different sources. */
function pairsOf(part: Part, width: number): Uint32Array {
  if (part.pairs?.width === width) return part.pairs.column
  const { category, source } = part.segment.columns
  const column = Uint32Array.from(category, (value, sound) => value * width + (source[sound] as number))
  part.pairs = { width, column }
  return column
}

type ColumnOf = (columns: Segment['columns']) => Valued['column']

function column(of: ColumnOf, shift = 1): Counter['value'] {
  return ({ segment }) => ({ column: of(segment.columns), shift })
}

/** Values that have to be worked out for a tally; kept, since a column never changes. @param place Counting from 1, 0 for none. */
function placed(
  of: (columns: Segment['columns']) => ArrayLike<number>,
  place: (value: number) => number,
): Counter['value'] {
  return ({ segment, places }) => {
    const values = of(segment.columns)
    const made = places.get(values) ?? Uint8Array.from(values, place)
    places.set(values, made)
    return { column: made, shift: 0 }
  }
}

function present<T extends string>(tally: readonly number[], texts: readonly T[]): Counted<T>[] {
  return texts.flatMap((value, index) => {
    const count = tally[index] ?? 0
    return count > 0 ? [{ value, count }] : []
  })
}

function yesOrNo(of: ColumnOf): Counter {
  return { size: () => 2, value: column(of), wire: booleans }
}

/** For columns of yes, no and unknown. */
function known(of: ColumnOf): Counter {
  return { size: () => 2, value: column(of, 1 - NO), wire: booleans }
}

function booleans(tally: readonly number[]): Counted<boolean>[] {
  return tally.flatMap((count, index) => (count > 0 ? [{ value: index === YES - NO, count }] : []))
}

function binned(edges: readonly number[], of: (columns: Segment['columns']) => Float32Array): Counter {
  return {
    size: () => edges.length,
    value: placed(of, (value) => binOf(edges, value)),
    wire: (tally) => edges.map((_, index) => tally[index] ?? 0),
  }
}

/** Counting from 1; 0 for what is not known. */
function binOf(edges: readonly number[], value: number): number {
  let at = 0
  while (at < edges.length && value >= (edges[at] as number)) at++
  return at
}
