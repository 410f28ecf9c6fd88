import type { Readable } from 'node:stream'
import type { Duration, Reading } from '../../core/rights'
import { type Choice, choiceTitle } from '../../core/sound-choices'
import { ports as messages } from '../../messages/server/ports'

/** A price under which a sound is offered, where a library sells by the sound. */
export interface Tier {
  readonly key: string
  readonly title: string
  /** In the smallest unit of the currency. */
  readonly priceMinor: number
  /** ISO 4217. */
  readonly currency: string
  readonly termsKey: string
}

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
  /** Terms of a copy; of the lowest tier where there are several. */
  readonly termsKey: string
  /** Empty where nothing is sold by the sound. The lowest first. */
  readonly tiers: readonly Tier[]
  readonly kind: 'effect' | 'ambience' | 'music'
  /** For music, where the source says so. */
  readonly tempoBpm: number | null
  readonly mood: string | null
  readonly vocals: boolean | null
  /** How often others took it, where the source says so. */
  readonly popularity: number | null
  /** Where it is a stem, part or version: of which entry of the same catalogue, and at which place among its choices. Its title tells it. */
  readonly choiceOf?: (Choice & { readonly externalId: string; readonly position: number }) | undefined
}

/** A choice as a library lists it with its entry. */
export type ListedChoice = Choice &
  Pick<CatalogueSound, 'externalId' | 'durationS' | 'previewRef'> & {
    /** Where they are others than those of the entry. */
    readonly formats?: readonly string[] | undefined
  }

/** An entry and its choices, each as a sound of its own under the terms and prices of the entry. */
export function withChoices(entry: CatalogueSound, choices: readonly ListedChoice[]): CatalogueSound[] {
  return [
    entry,
    ...choices.map(
      ({ role, name, formats, ...own }, position): CatalogueSound => ({
        ...entry,
        ...own,
        title: choiceTitle(entry.title, { role, name }),
        formats: formats ?? entry.formats,
        choiceOf: { externalId: entry.externalId, role, name, position },
      }),
    ),
  ]
}

/** A page of a catalogue. */
export interface CataloguePage {
  readonly sounds: readonly CatalogueSound[]
  /** What to ask for the page after this one with; null after the last. */
  readonly next: string | null
  /** Sounds in the whole catalogue, where the source says so: if it changes on the way, reading starts again. */
  readonly total: number | null
}

/** What is looked for at a library that is searched and not mirrored. */
export interface LiveQuery {
  /** Plain words, never empty. */
  readonly words: string
  readonly minLengthS?: number | undefined
  readonly maxLengthS?: number | undefined
  readonly kind?: CatalogueSound['kind'] | undefined
}

/** What changed at a source since a mark. */
export interface Changes {
  readonly changed: readonly CatalogueSound[]
  readonly goneIds: readonly string[]
  /** To ask with the next time. */
  readonly mark: string
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

/** An order that the source has taken, and the ways to its file and to what shows it. */
export interface Order {
  readonly ref: string
  /** For people: "free licence", "Studio plan". */
  readonly title: string
  /** Fetches the file; may be asked again when it broke off. */
  readonly file: (signal: AbortSignal) => Promise<ServedFile>
  /** The name that the source gives the file. Not to be trusted as a path. */
  readonly originalName: string | null
  /** What was paid, in the smallest unit; null where nothing was. */
  readonly paid: { readonly minor: number; readonly currency: string } | null
  readonly receipt: ((signal: AbortSignal) => Promise<ServedFile>) | null
}

/** What is ordered. */
export interface OrderRequest {
  /** Sent along so that the same order is never placed twice. */
  readonly key: string
  /** Which tier, and the price that was agreed to; null where nothing is sold. */
  readonly tier: { readonly key: string; readonly priceMinor: number; readonly currency: string } | null
  /** One of the formats that the sound is offered in, where there are several; by default the first. */
  readonly format?: string | null
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
  /** One page of the catalogue. @param after Where the page before ended; null for the first. */
  page(after: string | null, signal: AbortSignal): Promise<CataloguePage>
  /** Whether the changes tell of new and changed sounds too, or of removals alone. */
  readonly changesTell?: 'everything' | 'removals'
  /** What changed since a mark; absent where the source cannot tell. Null mark: only the mark of now is wanted. */
  readonly changes?: (mark: string | null, signal: AbortSignal) => Promise<Changes>
  /**
   * Searches a library that is too large to be mirrored: its catalogue is never read as a whole, and `page` gives what its own example finds. Absent where
   * the catalogue is read.
   */
  readonly search?: (query: LiveQuery, after: string | null, signal: AbortSignal) => Promise<CataloguePage>
  terms(key: string, signal: AbortSignal): Promise<ServedTerms>
  /** How its own terms are read; absent where it serves known licences only. Whoever changes them raises READING_VERSION. */
  readonly readings?: readonly Reading[]
  preview(previewRef: string, signal: AbortSignal): Promise<ServedFile>
  /**
   * Orders a sound; the same key gives the same order.
   *
   * @throws {SourceError} price-changed when another price is asked than was agreed: then this request has bought nothing.
   */
  order(externalId: string, request: OrderRequest, signal: AbortSignal): Promise<Order>
  /** The order that was placed with a key, or null: whether an order was paid whose answer was lost. Absent where it cannot tell. */
  readonly findOrder?: (key: string, signal: AbortSignal) => Promise<Order | null>
}

/** A library that is down, refuses, or answers what cannot be understood. The message is fit for people. */
export class SourceError extends Error {
  override readonly name = 'SourceError'
  constructor(
    readonly code: 'down' | 'refused' | 'nonsense' | 'gone' | 'too-large' | 'busy' | 'price-changed' | 'overcharged',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}

/** An answer of a library that is not as it should be. @param what Continues the sentence: "its answer is not JSON". */
export function notUnderstood(libraryName: string, what: string, cause?: unknown): SourceError {
  return new SourceError('nonsense', messages.cannotBeUnderstoodNothingHere(libraryName, what), {
    cause,
  })
}

/** What a source without prices and music facts says of every sound. */
export const PLAIN_SOUND = {
  tiers: [],
  kind: 'effect',
  tempoBpm: null,
  mood: null,
  vocals: null,
  popularity: null,
} as const

/** Every page of a catalogue, from a position on. */
export async function* cataloguePages(
  connector: Connector,
  signal: AbortSignal,
  from: string | null = null,
): AsyncGenerator<CataloguePage> {
  const asked = new Set<string | null>()
  for (let after: string | null = from, count = 0; count < MAX_PAGES; count++) {
    if (asked.has(after)) throw new SourceError('nonsense', messages.catalogueGoesRoundInCircle(connector.name))
    asked.add(after)
    const page = await connector.page(after, signal)
    if (page.sounds.length > MAX_PAGE_SOUNDS)
      throw new SourceError('nonsense', messages.sendsMoreThanSoundsOn(connector.name, MAX_PAGE_SOUNDS))
    yield page
    if (page.next === null) return
    after = page.next
  }
  throw new SourceError('nonsense', messages.catalogueDoesNotComeEnd(connector.name))
}

const MAX_PAGES = 50_000
const MAX_PAGE_SOUNDS = 10_000
