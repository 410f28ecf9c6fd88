import type { Fit } from '../rights'
import type { Part } from './answer'
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

/** How the values of one kind are counted. */
export interface Counter {
  size(names: Names): number
  /** Gives the place in the tally for a sound, -1 for none; null where nothing is known of any. */
  value(part: Part): ((sound: number) => number) | null
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
    value: column(({ mood }) => mood, -1),
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
    value: ({ fits }) => fits && ((sound) => (fits.column[sound] === 255 ? -1 : (fits.column[sound] as number))),
    wire: (tally) => tally.flatMap((count, index) => (count > 0 ? [{ value: fitAt(index), count }] : [])),
  },
  credit: yesOrNo(({ creditOwed }) => creditOwed),
  here: yesOrNo(({ here }) => here),
  kept: yesOrNo(({ kept }) => kept),
  used: {
    ...yesOrNo(({ kept }) => kept),
    value:
      ({ segment }) =>
      (sound) =>
        Number((segment.columns.usedCount[sound] as number) > 0),
  },
  channels: {
    size: () => 2,
    value:
      ({ segment }) =>
      (sound) =>
        Math.min(1, (segment.columns.channels[sound] as number) - 1),
    wire: (tally) => present(tally, ['mono', 'stereo']),
  },
  loops: known(({ loops }) => loops),
  vocals: known(({ vocals }) => vocals),
  length: binned(LENGTH_EDGES_S, ({ durationS }) => durationS),
  tempo: binned(TEMPO_EDGES_BPM, ({ tempoBpm }) => tempoBpm),
}

type ColumnOf = (columns: Segment['columns']) => ArrayLike<number>

function column(of: ColumnOf, shift = 0): Counter['value'] {
  return ({ segment }) => {
    const values = of(segment.columns)
    return (sound) => (values[sound] as number) + shift
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
  return { size: () => 2, value: column(of, -NO), wire: booleans }
}

function booleans(tally: readonly number[]): Counted<boolean>[] {
  return tally.flatMap((count, index) => (count > 0 ? [{ value: index === YES - NO, count }] : []))
}

function binned(edges: readonly number[], of: ColumnOf): Counter {
  return {
    size: () => edges.length,
    value: ({ segment }) => {
      const values = of(segment.columns)
      return (sound) => {
        const value = values[sound] as number
        let at = -1
        while (at + 1 < edges.length && value >= (edges[at + 1] as number)) at++
        return at
      }
    },
    wire: (tally) => edges.map((_, index) => tally[index] ?? 0),
  }
}
