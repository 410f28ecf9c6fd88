import type { CountKind, FindCounts, FindRequest, FindResult, WordsMet } from '../../core/finding'

/** What results have to sound like: a sound of the catalogue, or a vector. */
export type LikeWhat =
  | { readonly kind: 'sound'; readonly id: number }
  | { readonly kind: 'vector'; readonly vector: Float32Array }

type Looked = Omit<FindRequest, 'like' | 'except' | 'sort' | 'limit' | 'offset'> & { readonly like: LikeWhat | null }

export type FindTask = Looked & Pick<FindRequest, 'sort' | 'limit' | 'offset'>
export type CountTask = Looked & { readonly kinds: readonly CountKind[] }

/** Offers of the catalogue, each with one sound that is under it. */
export type OfferList = readonly { readonly offer: string; readonly soundId: number }[]

/** Size of the index. */
export interface FinderSize {
  readonly sounds: number
  readonly words: number
  readonly bytes: number
  /** How long it took to make. */
  readonly builtMs: number
}

/** An answer that may not know the last changes: after how long they will be in it; null when it knows everything. */
export interface MayBeBehind {
  readonly behindMs: number | null
}

/** What the thread can be asked, and what it answers. */
export interface FinderCalls {
  find: { task: FindTask; result: FindResult & MayBeBehind }
  count: { task: CountTask; result: MayBeBehind & { readonly counts: FindCounts } }
  'half-met': { task: Pick<FindRequest, 'query' | 'fits'>; result: MayBeBehind & { readonly met: readonly WordsMet[] } }
  offers: { task: null; result: MayBeBehind & { readonly offers: OfferList } }
  size: { task: null; result: FinderSize }
  /** Takes the text of another vocabulary. */
  learn: { task: string; result: null }
}

export interface FinderCall<K extends keyof FinderCalls = keyof FinderCalls> {
  readonly number: number
  readonly name: K
  readonly task: FinderCalls[K]['task']
}

export type FinderAnswer =
  /** `isOutdated`: the index that answered should be made anew. */
  | { readonly number: number; readonly ok: true; readonly value: unknown; readonly isOutdated?: boolean }
  | { readonly number: number; readonly ok: false; readonly code: string; readonly message: string }

export interface FinderStart {
  readonly dataDir: string
  readonly vocabulary: string
}

/** Stands in the list of changed sounds for very many of them: no sound has this id. */
export const VERY_MANY_CHANGED = 0
