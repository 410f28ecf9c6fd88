import type { Segment } from './segment'
import type { Sort } from './sorts'
import { WordIndex } from './word-index'

/** A segment with what is worked out over it. */
export interface Part {
  readonly segment: Segment
  readonly index: WordIndex
  /** 1 for sounds that are gone, or stand in a later segment as they are now. */
  readonly dead: Uint8Array
  deadCount: number
  /** What is added to the points of the words, with the level of popularity: the key of a sound without any points. */
  readonly base: Uint16Array
  /** Room for the hits of one question and their keys. */
  readonly hits: Uint32Array
  readonly keys: Uint16Array
  /** Room for counting keys. */
  readonly tally: Uint32Array
  /** Positions in the order of a column, made when first asked for. */
  readonly orders: Map<Sort, Uint32Array>
  /** Places in a tally for the values of a column, made when first counted. */
  readonly places: Map<ArrayLike<number>, Uint8Array>
  /** Points of the last few words that were looked for, the latest last. */
  readonly points: Map<string, Uint8Array>
  /** Category and source of each sound as one number, made when first counted. */
  pairs: { readonly width: number; readonly column: Uint32Array } | null
  fits: { readonly key: string; readonly column: Uint8Array } | null
}

/** What answers to the words of a query in one segment, and what the conditions leave of it. Holds until the next question. */
export interface Answer {
  readonly part: Part
  /** Positions of the sounds that answer, rising. */
  readonly hits: Uint32Array
  /** For each hit: the more, the better. */
  readonly keys: Uint16Array
  /** For each hit: 0 meets all conditions, n misses only the n-th, `SEVERAL` more than one. Null where there are no conditions. */
  readonly misses: Uint8Array | null
  /** For each condition, how many hits miss it. */
  readonly hidden: readonly number[]
  /** Hits that meet everything. */
  readonly total: number
}

export const SEVERAL = 255

/** Levels of popularity that break ties between results with the same points. */
const POPULARITY_LEVELS = 16

/** Makes a segment ready to be searched. */
export function partOf(segment: Segment): Part {
  return {
    segment,
    index: new WordIndex(segment),
    dead: new Uint8Array(segment.count),
    deadCount: 0,
    base: baseKeys(segment),
    hits: new Uint32Array(segment.count),
    keys: new Uint16Array(segment.count),
    tally: new Uint32Array(0x10000),
    orders: new Map(),
    places: new Map(),
    points: new Map(),
    pairs: null,
    fits: null,
  }
}

/** Finds the sounds that have points in every list, and gives them the sum on top of what they have anyway. @returns How many. */
export function gatherHits(part: Part, excluded: Uint8Array | null, lists: readonly Uint8Array[]): number {
  // The list with the fewest sounds leaves the least to do for the others.
  const [first, ...others] = [...lists].sort((a, b) => share(a) - share(b))
  let count = first ? positionsWith(part.hits, first) : allPositions(part.hits)
  if (excluded) count = withoutExcluded(part.hits, count, excluded)
  giveKeys(part, count, first)
  for (const points of others) count = narrowed(part.hits, part.keys, count, points)
  return count
}

/** Share of the sounds that have points, from a sample. */
function share(points: Uint8Array): number {
  let some = 0
  for (let at = 0; at < points.length; at += SAMPLE_STEP) if (points[at] !== 0) some++
  return some / Math.ceil(points.length / SAMPLE_STEP)
}

const SAMPLE_STEP = 997
const FEW_SHARE = 0.1

/**
 * Writes down the positions that have points. Where there are many, every position is written, and kept by moving on from it:
 * whether it is kept cannot be foreseen, and a branch that is foreseen wrongly costs more than a write. Points are at most 128,
 * so (points + 127) >> 7 is 1 for any and 0 for none.
 */
function positionsWith(hits: Uint32Array, points: Uint8Array): number {
  const length = points.length
  let count = 0
  if (share(points) < FEW_SHARE) {
    for (let sound = 0; sound < length; sound++) if (points[sound] !== 0) hits[count++] = sound
    return count
  }
  for (let sound = 0; sound < length; sound++) {
    hits[count] = sound
    count += ((points[sound] as number) + 127) >> 7
  }
  return count
}

function allPositions(hits: Uint32Array): number {
  for (let sound = 0; sound < hits.length; sound++) hits[sound] = sound
  return hits.length
}

function withoutExcluded(hits: Uint32Array, count: number, excluded: Uint8Array): number {
  let left = 0
  for (let at = 0; at < count; at++) {
    const sound = hits[at] as number
    hits[left] = sound
    left += 1 ^ (excluded[sound] as number)
  }
  return left
}

function giveKeys({ base, hits, keys }: Part, count: number, points: Uint8Array | undefined): void {
  if (!points) {
    for (let at = 0; at < count; at++) keys[at] = base[hits[at] as number] as number
    return
  }
  for (let at = 0; at < count; at++) {
    const sound = hits[at] as number
    keys[at] = (base[sound] as number) + (points[sound] as number) * POPULARITY_LEVELS
  }
}

function narrowed(hits: Uint32Array, keys: Uint16Array, count: number, points: Uint8Array): number {
  let left = 0
  for (let at = 0; at < count; at++) {
    const sound = hits[at] as number
    const more = points[sound] as number
    if (more === 0) continue
    hits[left] = sound
    keys[left] = (keys[at] as number) + more * POPULARITY_LEVELS
    left++
  }
  return left
}

/** Key of a sound that no words are looked for in; never 0. */
function baseKeys({ columns, count }: Segment): Uint16Array {
  const { bonus, popularity } = columns
  const base = new Uint16Array(count)
  for (let sound = 0; sound < count; sound++) {
    const level = Math.min(POPULARITY_LEVELS - 1, Math.floor((popularity[sound] as number) * POPULARITY_LEVELS))
    base[sound] = (1 + (bonus[sound] as number)) * POPULARITY_LEVELS + level
  }
  return base
}

/** Hits that meet everything. */
export function totalOf(count: number, misses: Uint8Array | null): number {
  if (misses === null) return count
  let total = 0
  for (const missed of misses) if (missed === 0) total++
  return total
}

/** Leaves the hits that have a vector, with how alike they are as their key. @returns How many. */
export function weighLikeness({ segment, hits, keys }: Part, count: number, like: Float32Array): number {
  const { vectors, vectorLength } = segment
  if (!vectors || vectorLength !== like.length) return 0
  let left = 0
  for (let at = 0; at < count; at++) {
    const sound = hits[at] as number
    const likeness = dot(vectors, sound * vectorLength, like)
    if (Number.isNaN(likeness)) continue
    hits[left] = sound
    // A likeness of -1 to 1 as 1 to 65,535.
    keys[left] = 1 + Math.round(((Math.max(-1, Math.min(1, likeness)) + 1) / 2) * 65_534)
    left++
  }
  return left
}

/** Likeness of a vector that begins at a place of a list, and another. */
export function dot(values: Float32Array, from: number, other: Float32Array): number {
  let sum = 0
  for (let at = 0; at < other.length; at++) sum += (values[from + at] as number) * (other[at] as number)
  return sum
}
