import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { measureMasking } from '../../../../server/score/masking'

/** How what is placed and the voice of the cut cover each other. Nothing is changed. */
export const GET: APIRoute = endpoint(async (app, { params, request }) =>
  measureMasking(app, idParam(params), request.signal),
)
