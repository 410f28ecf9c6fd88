import type { APIRoute } from 'astro'
import { LoudnessRequest } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { measurePlaced } from '../../../server/score/placed-loudness'

/** How loud a placed sound is over the part that is heard. Nothing is changed. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  measurePlaced(app, await jsonBody(request, LoudnessRequest)),
)
