import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { listSources } from '../../../server/sources/list-sources'

export const GET: APIRoute = endpoint(async (app) => ({ sources: await listSources(app) }))
