import type { APIRoute } from 'astro'
import { endpoint } from '../../server/answer'
import { listRemoved } from '../../server/removal/removed'

/** What was removed and can still be brought back. */
export const GET: APIRoute = endpoint((app) => listRemoved(app, Date.now()))
