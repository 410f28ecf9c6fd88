import type { APIRoute } from 'astro'
import { endpoint, streamDownload } from '../../../server/answer'
import { todayIso } from '../../../server/database/open'
import { exportJournal } from '../../../server/orders/journal'

/** Every order as CSV. */
export const GET: APIRoute = endpoint(async ({ db }) => streamDownload(exportJournal(db, todayIso())))
