import type { APIRoute } from 'astro'
import { LengthRequest } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { findLengthFor } from '../../../server/score/find-length'

/** How a placed sound is brought to a length: parts of it one after the other. Nothing is changed. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  findLengthFor(app, await jsonBody(request, LengthRequest)),
)
