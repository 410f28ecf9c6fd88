import type { Connector } from '../ports/connector'
import { heronSlate } from './heron-slate'
import { pellMarrow } from './pell-marrow'
import { skerryview } from './skerryview'
import type { HttpPolicy } from './source-http'
import { tinBarn } from './tin-barn'

export const LIBRARY_IDS = ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview'] as const
export type LibraryId = (typeof LIBRARY_IDS)[number]

/** The connectors that ship, each at its address. */
export function shippedConnectors(options: {
  readonly urls: Readonly<Record<LibraryId, string>>
  readonly nowMs: () => number
  readonly httpPolicy?: HttpPolicy
}): Connector[] {
  const { urls, nowMs } = options
  const httpPolicy = options.httpPolicy ? { httpPolicy: options.httpPolicy } : {}
  return [
    tinBarn({ baseUrl: urls['tin-barn'], apiKey: 'small-hours-key', ...httpPolicy }),
    heronSlate({
      baseUrl: urls['heron-slate'],
      client: 'small-hours',
      secret: 'kettle-and-dome',
      nowMs,
      ...httpPolicy,
    }),
    pellMarrow({ baseUrl: urls['pell-marrow'], user: 'small-hours', password: 'pays-by-the-sound', ...httpPolicy }),
    skerryview({ baseUrl: urls.skerryview, key: 'sv-small-hours', ...httpPolicy }),
  ]
}
