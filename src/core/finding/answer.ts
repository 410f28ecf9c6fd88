import type { Sort } from './order'
import type { Segment } from './segment'
import type { WordIndex } from './word-index'

/** A segment with what is worked out over it. */
export interface Part {
  readonly segment: Segment
  readonly index: WordIndex
  /** 1 for sounds that are gone, or stand in a later segment as they are now. */
  readonly dead: Uint8Array
  /** Positions in the order of a column, made when first asked for. */
  readonly orders: Map<Sort, Uint32Array>
  fits: { readonly key: string; readonly column: Uint8Array } | null
}

/** What answers to the words of a query in one segment, and what the conditions leave of it. */
export interface Answer {
  readonly part: Part
  /** 0 where a sound does not answer; else the more, the better. */
  readonly keys: Uint16Array
  /** Per sound: 0 meets all conditions, n misses only the n-th, `SEVERAL` more than one. */
  readonly misses: Uint8Array | null
}

export const SEVERAL = 255
