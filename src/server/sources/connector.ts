import type { Readable } from 'node:stream'
import type { Duration, Reading } from '../../core/rights'

/** A sound as a source's catalogue lists it, in our words and units. */
export interface CatalogueSound {
  readonly externalId: string
  readonly title: string
  /** Empty when the source names none. */
  readonly maker: string
  readonly description: string
  readonly tags: readonly string[]
  readonly category: string
  readonly durationS: number
  readonly formats: readonly string[]
  /** In words: "free", "in your plan". */
  readonly cost: string
  readonly pageUrl: string | null
  /** What `preview` needs to fetch the audio that can be heard before acquiring. */
  readonly previewRef: string
  readonly termsKey: string
}

/** One version of the terms that a source serves today, with the way they are to be read. */
export interface ServedTerms {
  readonly key: string
  readonly version: string
  readonly title: string
  readonly shortTitle: string
  readonly spdxId: string | null
  readonly url: string | null
  /** The whole text as served. */
  readonly text: string
  readonly duration: Duration
  /** Answers that hold only where their phrase stands in `text`. */
  readonly readings: readonly Reading[]
}

/** The plan or account that sounds are acquired under. */
export interface Account {
  readonly plan: string
  /** Period of the plan, YYYY-MM-DD; null when it does not end. */
  readonly planFrom: string | null
  readonly planUntil: string | null
}

/** A file on its way from the source. */
export interface ServedFile {
  readonly body: Readable
  readonly mime: string
  /** Without the dot. */
  readonly ending: string
}

/** A copy that the source hands out, with what shows the order. */
export interface Order {
  readonly ref: string
  /** For people: "free licence", "Studio plan". */
  readonly title: string
  readonly file: ServedFile
}

/**
 * A library. One file implements it for one service; everything else knows only this interface.
 *
 * All methods throw {@link SourceError} in plain words when the library is down or answers nonsense.
 */
export interface Connector {
  readonly id: string
  readonly name: string
  /** What kind of library it is, in a sentence. */
  readonly about: string
  account(signal: AbortSignal): Promise<Account>
  /** The whole catalogue, page by page. */
  catalogue(signal: AbortSignal): AsyncIterable<readonly CatalogueSound[]>
  terms(key: string, signal: AbortSignal): Promise<ServedTerms>
  preview(previewRef: string, signal: AbortSignal): Promise<ServedFile>
  /** Orders a sound. @param orderKey Sent along so that the same order is never made twice. */
  order(externalId: string, orderKey: string, signal: AbortSignal): Promise<Order>
}

/** A library that is down, refuses, or answers what cannot be understood. The message is fit for people. */
export class SourceError extends Error {
  override readonly name = 'SourceError'
  constructor(
    readonly code: 'down' | 'refused' | 'nonsense' | 'gone' | 'too-large' | 'busy',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}
