import type { LiveFound } from '../../contract'

/** One search of one library. */
export interface LiveAsked {
  readonly sourceId: string
  /** As in Find: words, with conditions in square brackets. */
  readonly q: string
  /** Where the page before ended; null for the first. */
  readonly after: string | null
}

/** Searches libraries that are not mirrored. */
export interface SearchesLive {
  /**
   * What a library has for a query, written down.
   *
   * @throws {SourceError} the library cannot be asked. @throws {DomainError} not-found for a library that is not searched so.
   */
  search(asked: LiveAsked, signal: AbortSignal): Promise<Omit<LiveFound, 'sounds'>>
}

/** Listens to sounds of such libraries, of which only what is shown is fetched. */
export interface ListensLive {
  /** Has sounds listened to that are shown now, those before all others. @returns How many of them are still to be heard. */
  want(ids: readonly number[]): Promise<number>
  /** Waits until a sound has been listened to, or could not be. */
  hearNow(id: number): Promise<void>
}
