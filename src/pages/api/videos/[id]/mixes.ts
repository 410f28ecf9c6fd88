import type { APIRoute } from 'astro'
import { MixOptions } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { startMix } from '../../../../server/score/start-mix'

/** Queues the writing of a mix of what is placed now. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => ({
  mix: await startMix(app, idParam(params), await jsonBody(request, MixOptions)),
}))
