import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { listTerms } from '../../../server/terms/list-terms'

/** All terms, the newest version of each. */
export const GET: APIRoute = endpoint(async (app) => ({ terms: await listTerms(app) }))
