import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { suggestMoments } from '../../../../server/moments/suggest'

export const GET: APIRoute = endpoint(async (app, { params }) => suggestMoments(app, idParam(params)))
