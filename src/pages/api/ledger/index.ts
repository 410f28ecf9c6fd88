import type { APIRoute } from 'astro'
import { LedgerQuery } from '../../../contract'
import { endpoint } from '../../../server/answer'
import { loadLedgerPage } from '../../../server/ledger/verify'

/** Entries of the ledger in words, the newest first. */
export const GET: APIRoute = endpoint((app, { url }) => {
  const { before, limit } = LedgerQuery.parse(Object.fromEntries(url.searchParams))
  return loadLedgerPage(app.db, { limit, ...(before === undefined ? {} : { before }) })
})
