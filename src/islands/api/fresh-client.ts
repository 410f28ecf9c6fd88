import { type InvalidateOptions, type InvalidateQueryFilters, type Query, QueryClient } from '@tanstack/react-query'

/**
 * Keeps what the server was asked for.
 *
 * What becomes stale while it is asked for the first time is asked for once more when the answer is there, which may have been read before the change. The client
 * it is made from asks again only where an earlier answer is held, and would keep the old one for good. The first answer is not given up for the second: where one
 * change follows another, nothing would ever be shown.
 */
export class FreshClient extends QueryClient {
  /** Asked for the first time, and stale by now. */
  private readonly stale = new WeakMap<Query, Promise<void>>()

  override async invalidateQueries(
    filters: InvalidateQueryFilters = {},
    options: InvalidateOptions = {},
  ): Promise<void> {
    const again =
      (filters.refetchType ?? 'active') === 'active'
        ? this.getQueryCache()
            .findAll({ ...filters, type: 'active', fetchStatus: 'fetching' })
            .filter((query) => query.state.data === undefined && !query.isDisabled())
            .map((query) => this.askedAgain(query, options))
        : []
    await Promise.all([super.invalidateQueries(filters, options), ...again])
  }

  private askedAgain(query: Query, options: InvalidateOptions): Promise<void> {
    const known = this.stale.get(query)
    if (known) return known
    const made = Promise.resolve(query.promise)
      .catch(() => undefined)
      .then(() => {
        this.stale.delete(query)
        return super.invalidateQueries({ queryKey: query.queryKey, exact: true }, options)
      })
    this.stale.set(query, made)
    return made
  }
}
