import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { loadJournal } from '../../../server/orders/journal'

/** Every order, and what was paid by library and month. */
export const GET: APIRoute = endpoint(({ db }) => loadJournal(db))
