import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { listOpenProposals } from '../../../server/folders/folders'

/** Texts found beside files that may be papers. */
export const GET: APIRoute = endpoint(async (app) => ({ proposals: await listOpenProposals(app) }))
