import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'

/** How large the search's index is. */
export const GET: APIRoute = endpoint(async (app) => app.finder.ask('size', null))
