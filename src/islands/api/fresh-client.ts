import { type InvalidateOptions, type InvalidateQueryFilters, QueryClient } from '@tanstack/react-query'

/**
 * Keeps what the server was asked for.
 *
 * What becomes stale while it is asked for the first time is asked for once more: the answer under way may have been read before the change.
 * The client it is made from does so only where an earlier answer is held, and would keep the old one for good.
 */
export class FreshClient extends QueryClient {
  override async invalidateQueries(
    filters: InvalidateQueryFilters = {},
    options: InvalidateOptions = {},
  ): Promise<void> {
    if ((filters.refetchType ?? 'active') === 'active' && options.cancelRefetch !== false)
      // Silently: whoever waits for the first answer is given the second.
      for (const query of this.getQueryCache().findAll({ ...filters, type: 'active', fetchStatus: 'fetching' }))
        if (query.state.data === undefined && !query.isDisabled()) void query.cancel({ silent: true })
    return super.invalidateQueries(filters, options)
  }
}
